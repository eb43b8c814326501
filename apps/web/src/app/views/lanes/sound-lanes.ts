import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import type { Project, Sound } from '@arvex/core';
import { FLICKS_PER_SECOND, framesPerSecond, secondsFromFlicks } from '@arvex/core';
import { catchError, combineLatest, map, of, startWith, switchMap } from 'rxjs';
import { ProjectStore } from '../../data';
import { JointSnap, SoundTracks, STROKES_PER_S, Waveforms } from '../../features/sequence';
import { OpenSequence } from '../../session';
import { followDrag, IconButton } from '../../ui';
import { LaneScale } from './lane-scale';

const ROW_PX = 46;
/** Least width of what can be pulled at its ends, pixels. */
const PULL_PX = 18;
/** So few lanes stay in sight, whatever is scrolled. */
const MOST_STICKING = 1;
/** Values of a waveform go to this. */
const FULL = 128;

/** What of a piece is pulled. */
type Pulled = 'all' | 'start' | 'end' | 'fade-in' | 'fade-out';
type Parts = Partial<Pick<Sound, 'startFlicks' | 'trimS' | 'lengthS' | 'fadeInS' | 'fadeOutS'>>;

/** Lanes of sound: pieces with their waveforms, to be placed, trimmed and faded. */
@Component({
  selector: 'arvex-sound-lanes',
  imports: [IconButton],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './sound-lanes.html',
  styleUrl: './sound-lanes.scss',
  host: { '[class.few]': 'lanes().length <= mostSticking' },
})
export class SoundLanes {
  private readonly store = inject(ProjectStore);
  private readonly open = inject(OpenSequence);
  protected readonly tracks = inject(SoundTracks);
  private readonly waveforms = inject(Waveforms);
  private readonly snap = inject(JointSnap);
  protected readonly scale = inject(LaneScale);
  protected readonly rowPx = ROW_PX;
  protected readonly mostSticking = MOST_STICKING;
  protected readonly muted = computed(() => this.open.sequence()?.mutedLanes ?? []);
  /** What is being pulled, as it would be. */
  private readonly pulled = signal<{ readonly id: string; readonly parts: Parts } | undefined>(undefined);

  private readonly fps = computed(() => framesPerSecond(this.store.project()?.head.rate ?? { frames: 24, seconds: 1 }));
  private readonly files = computed(() => {
    const project = this.store.project();
    return project ? soundFiles(project, this.tracks.pieces()) : [];
  });
  /** Waveforms that are there, by the hash of their files. */
  private readonly drawn = toSignal(
    toObservable(this.files).pipe(
      switchMap((files) =>
        files.length === 0
          ? of([])
          : combineLatest(
              files.map((file) =>
                this.waveforms.of(file).pipe(
                  map((waveform) => [file.hash, waveform] as const),
                  // Without its waveform a piece is a bare block: it is heard all the same.
                  catchError(() => of(undefined)),
                  startWith(undefined),
                ),
              ),
            ),
      ),
      map((all) => new Map(all.filter((one) => one !== undefined))),
    ),
    { initialValue: new Map<string, Int8Array>() },
  );

  protected readonly lanes = computed(() => {
    const [project, pulled] = [this.store.project(), this.pulled()];
    const pieces = this.tracks.pieces().map((one) => (one.id === pulled?.id ? { ...one, ...pulled.parts } : one));
    const count = pieces.reduce((most, { lane }) => Math.max(most, lane + 1), 0);
    return Array.from({ length: count }, (_, lane) => ({
      lane,
      pieces: pieces.filter((one) => one.lane === lane).map((sound) => this.blockOf(project, sound)),
    }));
  });

  private blockOf(project: Project | undefined, sound: Sound) {
    const perS = this.fps() * this.scale.framePx();
    const left = secondsFromFlicks(sound.startFlicks) * perS;
    const width = Math.max(2, sound.lengthS * perS);
    const file = project?.assets[sound.assetId]?.file;
    const waveform = file ? this.drawn().get(file.hash) : undefined;
    // Only what is seen is drawn.
    const from = Math.max(0, Math.floor(this.scale.scrollPx() - left));
    const to = Math.min(width, from + this.scale.widthPx() + 4);
    return {
      sound,
      left,
      width,
      pulls: width >= PULL_PX,
      from,
      span: Math.max(1, to - from),
      fadeIn: sound.fadeInS * perS,
      fadeOut: sound.fadeOutS * perS,
      path: waveform ? strokes(waveform, sound, perS, from, to) : '',
      words: `${sound.name}, ${sound.lengthS.toFixed(1)} seconds, ${sound.gainDb} dB${sound.muted ? ', muted' : ''}`,
    };
  }

  protected press(event: PointerEvent, what: Pulled, sound: Sound): void {
    if (event.button !== 0) return;
    event.stopPropagation();
    this.tracks.choose(sound.id);
    const framePx = this.scale.framePx();
    const catching = this.snap.frames([]);
    let parts: Parts | undefined;
    followDrag(
      event,
      ({ dx }) => {
        const edge = Math.round(
          (secondsFromFlicks(sound.startFlicks) + (what === 'end' ? sound.lengthS : 0)) * this.fps(),
        );
        const by = what.startsWith('fade')
          ? dx / framePx
          : this.snap.caught(edge, Math.round(dx / framePx), framePx, catching);
        parts = pulledBy(sound, what, by / this.fps());
        this.pulled.set({ id: sound.id, parts });
      },
      (kept) => {
        this.pulled.set(undefined);
        if (kept && parts) this.tracks.set(sound.id, WORDS[what], parts);
      },
    );
  }

  /** Arrow keys move a piece by a frame, with Shift by a second. */
  protected key(event: KeyboardEvent, sound: Sound): void {
    const direction = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
    if (direction === 0 || event.altKey || event.ctrlKey) return;
    event.preventDefault();
    event.stopPropagation();
    const seconds = (direction * (event.shiftKey ? Math.round(this.fps()) : 1)) / this.fps();
    this.tracks.set(sound.id, WORDS.all, pulledBy(sound, 'all', seconds));
  }
}

const WORDS: Readonly<Record<Pulled, string>> = {
  all: 'Place',
  start: 'Trim the start',
  end: 'Trim the end',
  'fade-in': 'Fade in',
  'fade-out': 'Fade out',
};

/** A piece as pulling something of it by so many seconds leaves it; its file's own ends hold it. */
function pulledBy(sound: Sound, what: Pulled, bySeconds: number): Parts {
  const { startFlicks, trimS, lengthS, fadeInS, fadeOutS } = sound;
  const flicks = (seconds: number) => Math.max(0, startFlicks + Math.round(seconds * FLICKS_PER_SECOND));
  switch (what) {
    case 'all':
      return { startFlicks: flicks(bySeconds) };
    case 'start': {
      const by = Math.max(-trimS, -secondsFromFlicks(startFlicks), Math.min(lengthS - 0.02, bySeconds));
      return { startFlicks: flicks(by), trimS: trimS + by, lengthS: lengthS - by };
    }
    case 'end':
      return { lengthS: Math.max(0.02, lengthS + bySeconds) };
    case 'fade-in':
      return { fadeInS: Math.max(0, Math.min(lengthS, fadeInS + bySeconds)) };
    case 'fade-out':
      return { fadeOutS: Math.max(0, Math.min(lengthS, fadeOutS - bySeconds)) };
  }
}

/** Files of pieces of sound, each once. */
function soundFiles({ assets }: Project, sounds: readonly Sound[]) {
  const files = sounds.map(({ assetId }) => assets[assetId]?.file).filter((file) => file?.kind === 'sound');
  return [...new Map(files.map((file) => [file.hash, file])).values()];
}

/** A waveform as a path: an upright stroke for each pixel from one to another, in a box of height 2 about 0. */
function strokes(waveform: Int8Array, { trimS }: Sound, pxPerS: number, from: number, to: number): string {
  const each = STROKES_PER_S / pxPerS;
  let path = '';
  for (let x = from; x < to; x++) {
    const [first, last] = [(trimS * STROKES_PER_S + x * each) | 0, (trimS * STROKES_PER_S + (x + 1) * each) | 0];
    let [low, high] = [0, 0];
    for (let i = first; i <= Math.max(first, last - 1); i++) {
      low = Math.min(low, waveform[i * 2] ?? 0);
      high = Math.max(high, waveform[i * 2 + 1] ?? 0);
    }
    path += `M${x - from + 0.5} ${(-high / FULL - 0.01).toFixed(3)}V${(-low / FULL + 0.01).toFixed(3)}`;
  }
  return path;
}
