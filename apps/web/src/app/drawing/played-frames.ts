import { inject, Injectable } from '@angular/core';
import type { Effort } from '@arvex/stage';
import { Subject } from 'rxjs';
import { Playhead } from '../session';

/** A frame of the cut or of a camera: by all it depends on, and where it stood when it was drawn. */
export interface FrameName {
  readonly key: string;
  readonly at: number;
}

interface Kept {
  readonly bitmap: ImageBitmap;
  readonly at: number;
  /** How much went into it. */
  readonly effort: Effort;
  /** Rises with every frame that is kept or shown. */
  age: number;
}

/** Bytes of a pixel. */
const PIXEL_BYTES = 4;
/** Share of the machine's memory that frames may take, and the least and the most of it, bytes. */
const MEMORY_SHARE = 1 / 16;
const [LEAST_BYTES, MOST_BYTES] = [128 * 2 ** 20, 512 * 2 ** 20];

/** Memory that a browser says it has, GB; those that do not say have at least four nowadays. */
const memoryGb = (): number => (navigator as { deviceMemory?: number }).deviceMemory ?? 4;

/**
 * Frames that were drawn once, by what each depends on: an edit leaves those it does not touch, and undoing it finds the others again.
 * They take a sixteenth of the machine's memory, 128 MB at least and 512 MB at most; of what does not fit, those go first that were not
 * seen for longest and lie farthest from the playhead.
 */
@Injectable({ providedIn: 'root' })
export class PlayedFrames {
  private readonly playhead = inject(Playhead);
  private readonly frames = new Map<string, Kept>();
  private clock = 0;
  private bytes = 0;
  readonly mostBytes = Math.min(MOST_BYTES, Math.max(LEAST_BYTES, memoryGb() * 2 ** 30 * MEMORY_SHARE));
  /** Frames came or went. */
  readonly changed$ = new Subject<void>();

  get size(): number {
    return this.frames.size;
  }

  has(key: string): boolean {
    return this.frames.has(key);
  }

  /** The picture of a frame, to be shown (showing takes it), and how much went into it. */
  copyOf(key: string): { readonly bitmap: Promise<ImageBitmap>; readonly effort: Effort } | undefined {
    const kept = this.frames.get(key);
    if (!kept) return undefined;
    kept.age = ++this.clock;
    return { bitmap: createImageBitmap(kept.bitmap), effort: kept.effort };
  }

  /** Keeps a copy of a frame's picture. */
  async keep(frame: FrameName, bitmap: ImageBitmap, effort: Effort): Promise<void> {
    if (!this.frames.has(frame.key)) this.take(frame, await createImageBitmap(bitmap), effort);
  }

  /** Keeps a frame's picture itself: nobody else may close it. */
  take({ key, at }: FrameName, bitmap: ImageBitmap, effort: Effort): void {
    this.drop(key);
    this.frames.set(key, { bitmap, at, effort, age: ++this.clock });
    this.bytes += sizeOf(bitmap);
    while (this.bytes > this.mostBytes && this.frames.size > 1) this.drop(this.leastWanted());
    this.changed$.next();
  }

  /** What the graphics held is gone. */
  forget(): void {
    for (const { bitmap } of this.frames.values()) bitmap.close();
    this.frames.clear();
    this.bytes = 0;
    this.changed$.next();
  }

  private drop(key: string): void {
    const kept = this.frames.get(key);
    if (!kept) return;
    this.frames.delete(key);
    this.bytes -= sizeOf(kept.bitmap);
    kept.bitmap.close();
  }

  /** A frame away from the playhead counts as much as one other frame seen since. */
  private leastWanted(): string {
    const here = this.playhead.frame();
    let [worst, most] = ['', -1];
    for (const [key, { at, age }] of this.frames) {
      const unwanted = this.clock - age + Math.abs(at - here);
      if (unwanted > most) [worst, most] = [key, unwanted];
    }
    return worst;
  }
}

const sizeOf = ({ width, height }: ImageBitmap): number => width * height * PIXEL_BYTES;
