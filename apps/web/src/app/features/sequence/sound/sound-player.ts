import { DestroyRef, effect, inject, Injectable, untracked } from '@angular/core';
import type { HeardPart, PlayedStretch, Sound } from '@arvex/core';
import { audible, flicksAtFrame, heardBetween, SOUND_RATE, soundsInOrder } from '@arvex/core';
import { ProjectStore } from '../../../data';
import { OpenSequence, Playback, Playhead } from '../../../session';
import { CHUNK, SoundChunks } from './sound-chunks';

/** How far ahead sound is laid out, and how often, seconds and milliseconds. */
const AHEAD_S = 1.5;
const EVERY_MS = 250;
/** What is heard of a frame that the playhead is dragged over, and how softly it begins and ends, seconds. */
const SCRUB_S = 0.09;
const SOFT_S = 0.008;
/** A sound's clock that has not gone on for so long is not followed any more, milliseconds. */
const STANDS_MS = 500;

/**
 * Plays the sound under the open sequence. While the cut plays at its true rate forward, its frames follow the clock of the sound; a
 * playhead that is dragged lets a moment of it be heard.
 */
@Injectable({ providedIn: 'root' })
export class SoundPlayer {
  private readonly store = inject(ProjectStore);
  private readonly open = inject(OpenSequence);
  private readonly playhead = inject(Playhead);
  private readonly playback = inject(Playback);
  private readonly chunks = inject(SoundChunks);
  private context: AudioContext | undefined;
  private readonly sources = new Set<AudioBufferSourceNode>();
  private timer = 0;
  /** Counts beginnings and ends, so that one that had to wait knows whether it still counts. */
  private begun = 0;
  /** When the sound's clock was seen going on, by both clocks. */
  private ticked = { soundS: 0, atMs: 0 };
  /** What plays, when on the sound's clock it began, and how far it is laid out, samples since then. */
  private run: { readonly stretch: PlayedStretch; readonly beganS: number; laid: number } | undefined;

  constructor() {
    effect(() => {
      const plays = this.playhead.playing() && this.playhead.speed() === 1 && this.playback.pace() === 1;
      const isCut = this.playhead.mode() === 'cut' && !this.playback.everyFrame();
      untracked(() => (plays && isCut && this.sounds().length > 0 ? void this.begin() : this.end()));
    });
    // Dragged or stepped over, a frame is heard.
    effect(() => {
      const frame = this.playhead.frame();
      untracked(() => !this.playhead.playing() && void this.scrub(frame));
    });
    // What was changed while it plays is heard as it is now.
    effect(() => {
      this.store.project();
      untracked(() => this.run && this.layOutAnew());
    });
    inject(DestroyRef).onDestroy(() => {
      this.end();
      void this.context?.close();
    });
  }

  private sounds(): readonly Sound[] {
    const [project, sequence] = [this.store.project(), this.open.sequence()];
    return project && sequence ? audible(soundsInOrder(project, sequence.id), sequence) : [];
  }

  /** The clock and the way out of the sound, running. Asked for when somebody has pressed something: before that no browser lets it sound. */
  private async opened(): Promise<AudioContext> {
    const context = (this.context ??= new AudioContext({ latencyHint: 'interactive' }));
    if (context.state !== 'running') await context.resume();
    return context;
  }

  private async begin(): Promise<void> {
    this.end();
    const rate = this.store.project()?.head.rate;
    if (!rate) return;
    const begun = ++this.begun;
    const [first, last] = this.playhead.playedRange();
    const stretch = {
      firstFlicks: flicksAtFrame(first, rate),
      endFlicks: flicksAtFrame(last + 1, rate),
      startFlicks: flicksAtFrame(this.playhead.frame(), rate),
      loops: this.playback.loop(),
    };
    const context = await this.opened();
    if (this.begun !== begun) return; // stopped meanwhile, or begun anew
    // What has gone by meanwhile has gone by for the sound too.
    const beganS = context.currentTime - this.playback.playedMs() / 1000;
    this.run = { stretch, beganS, laid: sampleIn(context.currentTime - beganS) };
    this.playback.followSound(() => this.heardMs());
    this.layOut();
    this.timer = window.setInterval(() => this.layOut(), EVERY_MS);
  }

  private end(): void {
    this.begun += 1;
    clearInterval(this.timer);
    this.playback.followSound(undefined);
    this.run = undefined;
    this.hush();
  }

  private hush(): void {
    for (const source of this.sources) source.stop();
    this.sources.clear();
  }

  /** How much has been heard since playing began, milliseconds; nothing while the sound stands, as where its device was taken away. */
  private heardMs(): number | undefined {
    const { run, context } = this;
    if (!run || context?.state !== 'running') return undefined;
    const now = performance.now();
    if (context.currentTime !== this.ticked.soundS) this.ticked = { soundS: context.currentTime, atMs: now };
    if (now - this.ticked.atMs > STANDS_MS) return undefined;
    return Math.max(0, context.currentTime - run.beganS - context.outputLatency) * 1000;
  }

  private layOut(): void {
    const { run, context } = this;
    if (!run || !context) return;
    const to = sampleIn(context.currentTime - run.beganS + AHEAD_S);
    for (const part of heardBetween(this.sounds(), run.stretch, run.laid, to)) this.lay(context, part, run.beganS);
    run.laid = Math.max(run.laid, to);
  }

  private layOutAnew(): void {
    const { run, context } = this;
    if (!run || !context) return;
    this.hush();
    run.laid = sampleIn(context.currentTime - run.beganS);
    this.layOut();
  }

  private async scrub(frame: number): Promise<void> {
    const rate = this.store.project()?.head.rate;
    if (!rate || this.playhead.mode() !== 'cut' || !navigator.userActivation.hasBeenActive) return;
    this.hush();
    const startFlicks = flicksAtFrame(frame, rate);
    const stretch = { firstFlicks: 0, endFlicks: Infinity, startFlicks, loops: false };
    const parts = heardBetween(this.sounds(), stretch, 0, sampleIn(SCRUB_S));
    if (parts.length === 0) return;
    const context = await this.opened();
    if (this.run || this.playhead.frame() !== frame) return;
    for (const part of parts) this.lay(context, part, context.currentTime);
  }

  /** Lays a part out on the sound's clock, chunk by chunk, as soon as each is there. */
  private lay(context: AudioContext, part: HeardPart, beganS: number): void {
    const file = this.store.project()?.assets[part.sound.assetId]?.file;
    if (file?.kind !== 'sound') return;
    const { run } = this;
    const end = part.fileFrom + part.count;
    for (let index = Math.floor(part.fileFrom / CHUNK); index * CHUNK < end; index++) {
      const [from, to] = [Math.max(part.fileFrom, index * CHUNK), Math.min(end, (index + 1) * CHUNK)];
      this.chunks.of(context, file.hash, index).then(
        (buffer) => {
          if (this.run !== run) return;
          const atS = beganS + (part.at + from - part.fileFrom) / SOUND_RATE;
          const [offsetS, seconds] = [(from - index * CHUNK) / SOUND_RATE, (to - from) / SOUND_RATE];
          this.sound(context, buffer, { atS, offsetS, seconds }, part, beganS);
        },
        () => undefined, // the server is away: the picture goes on without it, and the next chunk is asked for
      );
    }
  }

  private sound(
    context: AudioContext,
    buffer: AudioBuffer,
    { atS, offsetS, seconds }: { readonly atS: number; readonly offsetS: number; readonly seconds: number },
    part: HeardPart,
    beganS: number,
  ): void {
    // What came late begins where it should be by now.
    const late = Math.max(0, context.currentTime - atS);
    if (late >= seconds) return;
    const source = new AudioBufferSourceNode(context, { buffer });
    const gain = new GainNode(context, { gain: 0 });
    const partAt = beganS + part.at / SOUND_RATE;
    for (const [i, [after, value]] of part.gains.entries()) {
      const at = Math.max(context.currentTime, partAt + after / SOUND_RATE);
      if (i === 0) gain.gain.setValueAtTime(value, at);
      else gain.gain.linearRampToValueAtTime(value, at);
    }
    if (!this.run) softened(gain, part.gains[0]?.[1] ?? 1, atS, seconds);
    source.connect(gain).connect(context.destination);
    source.addEventListener('ended', () => this.sources.delete(source));
    source.start(atS + late, offsetS + late, seconds - late);
    this.sources.add(source);
  }
}

/** The sample at a time since playing began, seconds. */
const sampleIn = (seconds: number): number => Math.max(0, Math.round(seconds * SOUND_RATE));

/** A moment that is heard alone begins and ends without a click. */
function softened({ gain }: GainNode, value: number, atS: number, seconds: number): void {
  gain.cancelScheduledValues(0);
  gain.setValueAtTime(0, atS);
  gain.linearRampToValueAtTime(value, atS + SOFT_S);
  gain.setValueAtTime(value, atS + seconds - SOFT_S);
  gain.linearRampToValueAtTime(0, atS + seconds);
}
