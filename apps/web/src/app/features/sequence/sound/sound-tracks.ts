import { computed, inject, Injectable, signal } from '@angular/core';
import type { Project, Sound } from '@arvex/core';
import {
  addSound,
  assetFileSchema,
  deleteSound,
  flicksAtFrame,
  setSequence,
  setSound,
  shortened,
  soundsInOrder,
  splitSound,
} from '@arvex/core';
import { EMPTY, firstValueFrom, mergeMap, of, tap } from 'rxjs';
import { AwayError, Notices, ProjectStore, retryWithPauses, upload } from '../../../data';
import { OpenSequence, Playhead } from '../../../session';
import type { FilesWhere, FileTaker, KnownFile } from '../../interchange';
import { CutEdits } from '../cut-edits';

/** A file on its way to the server. */
interface OnItsWay {
  readonly name: string;
  readonly doing: string;
}

/** The sound under the open sequence: files brought in, pieces placed, trimmed and faded. */
@Injectable({ providedIn: 'root' })
export class SoundTracks implements FileTaker {
  readonly becomes = ['sound'] as const;
  private readonly store = inject(ProjectStore);
  private readonly open = inject(OpenSequence);
  private readonly playhead = inject(Playhead);
  private readonly edits = inject(CutEdits);
  private readonly notices = inject(Notices);
  private readonly chosen = signal<string | undefined>(undefined);

  readonly onItsWay = signal<OnItsWay | undefined>(undefined);
  readonly pieces = computed<readonly Sound[]>(() => {
    const project = this.store.project();
    return project ? soundsInOrder(project, this.open.id()) : [];
  });
  /** The piece that is worked on. */
  readonly piece = computed(() => this.pieces().find(({ id }) => id === this.chosen()) ?? this.pieces()[0]);

  choose(soundId: string): void {
    this.chosen.set(soundId);
  }

  async take(files: readonly KnownFile[], { atFrame }: FilesWhere): Promise<void> {
    for (const { file } of files) await this.bringIn(file, atFrame);
  }

  /** Sends a file and puts it under the cut: at a frame, the playhead's where none is given. */
  async bringIn(file: File, frame = this.playhead.mode() === 'cut' ? this.playhead.frame() : 0): Promise<void> {
    try {
      const taken = upload('/sounds', file, file.name, assetFileSchema).pipe(
        tap((step) => {
          if (step.kind === 'sent')
            this.tell(file, step.share < 1 ? `Sending ${Math.floor(step.share * 100)} %` : 'Listening to');
        }),
        mergeMap((step) => (step.kind === 'taken' ? of(step.answer) : EMPTY)),
        retryWithPauses((error, tries) => {
          if (!(error instanceof AwayError)) throw error;
          this.tell(file, `${error.reason} Trying again (${tries}) with`);
        }),
      );
      const facts = await firstValueFrom(taken);
      const project = this.store.project();
      if (!project || facts.kind !== 'sound') return;
      const ids = { soundId: crypto.randomUUID(), assetId: knownAsset(project, facts.hash) ?? crypto.randomUUID() };
      const name = shortened(file.name.replace(/\.[^.]+$/, ''), 100) || 'sound';
      const startFlicks = flicksAtFrame(frame, project.head.rate);
      if (this.edits.run((now, id) => addSound(now, id, { ...ids, name, file: facts, startFlicks })))
        this.choose(ids.soundId);
    } catch (error) {
      this.notices.error(new Error(`${file.name} was not brought in: ${(error as Error).message}`));
    } finally {
      this.onItsWay.set(undefined);
    }
  }

  private tell({ name }: File, doing: string): void {
    this.onItsWay.set({ name, doing });
  }

  set(soundId: string, what: string, parts: Partial<Omit<Sound, 'id' | 'revision' | 'sequenceId' | 'assetId'>>): void {
    this.edits.run((project) => setSound(project, soundId, what, parts));
  }

  /** Divides a piece at the playhead. */
  divide(soundId: string): void {
    const atFlicks = flicksAtFrame(
      this.playhead.frame(),
      this.store.project()?.head.rate ?? { frames: 24, seconds: 1 },
    );
    this.edits.run((project) => splitSound(project, soundId, atFlicks, crypto.randomUUID()));
  }

  delete(soundId: string): void {
    this.edits.run((project) => deleteSound(project, soundId));
  }

  /** Lets a lane be heard, or not. */
  muteLane(lane: number): void {
    const muted = this.open.sequence()?.mutedLanes ?? [];
    const mutedLanes = muted.includes(lane) ? muted.filter((one) => one !== lane) : [...muted, lane];
    this.edits.run((project, id) =>
      setSequence(project, id, `Lane ${lane + 1} ${muted.includes(lane) ? 'heard' : 'muted'}`, { mutedLanes }),
    );
  }
}

/** The asset that has a file already. */
function knownAsset({ assets }: Project, hash: string): string | undefined {
  return Object.values(assets).find(({ file }) => file.hash === hash)?.id;
}
