/** What is shared out: frames that renderers draw, frames whose light the server mixes anew, and whole renders that are to be finished. */
export type WorkKind = 'draw' | 'mix' | 'finish';

/** A render's frames, as they are put in. */
export interface GivenFrames {
  readonly projectId: string;
  readonly renderId: string;
  /** Name of each frame's files, without folder and ending. */
  readonly names: readonly string[];
}

/** What a worker asks for. */
export interface AskedWork {
  readonly kinds: readonly WorkKind[];
  /** Of this render alone; of whatever is first in line when left out. */
  readonly renderId?: string | undefined;
  /** At most so many frames. */
  readonly count: number;
  /** Name by which the worker is known when it begins anew; what a nameless one holds is free when its time is up. */
  readonly worker?: string | undefined;
  /** What it draws with. What one kind of graphics has begun stays with it while such a worker lives: others draw a code value beside it. */
  readonly graphics?: string | undefined;
}

/** Work that one worker holds, and nobody else does meanwhile. */
export interface HeldWork {
  readonly leaseId: string;
  readonly kind: WorkKind;
  readonly projectId: string;
  readonly renderId: string;
  /** Frames, by their place in the render; none of a whole render. */
  readonly frames: readonly number[];
  /** It is free again after so long, unless it is extended. */
  readonly seconds: number;
}

/** A file of a finished frame. */
export interface FinishedFile {
  readonly index: number;
  readonly role: string;
  /** Folder and name as it leaves; `null` where only movies are made from it. */
  readonly path: string | null;
  readonly hash: string;
  readonly bytes: number;
  /** What the frame shares only with frames that are the same, where that is known. */
  readonly key?: string | undefined;
}

/** What is not there any more: one render, or all of a project. */
export type Gone = { readonly renderId: string } | { readonly projectId: string };

/** A lease on a render's frames, or on the render as a whole. */
export interface LeaseOn {
  readonly renderId: string;
  readonly leaseId: string;
}

/**
 * Work that is shared out to any number of workers in any number of processes. Everything that was answered is kept: whoever dies, it
 * goes on. What is refused is a `Problem`: `not-found` where a render is not there, `render-over` where it is in a state in which it
 * cannot be, `lease-lost` where the worker's time was up, or the work was taken from it.
 */
export interface WorkQueue {
  /** How long work is held without a word, seconds. */
  readonly leaseSeconds: number;
  /**
   * @param within what the adapter needs to write this together with the render's own row, which whoever commits it then says by
   *   {@link tell}; by itself when left out.
   */
  give(frames: GivenFrames, within?: unknown): Promise<void>;
  /** A worker begins anew: what it held before it does not do any more. @returns how many frames that frees. */
  begin(worker: string): Promise<number>;
  /** The first work in line that nobody does; nothing where there is none. Who asks at the same time gets different work. */
  lease(asked: AskedWork): Promise<HeldWork | undefined>;
  /** Whether a lease still holds a frame. */
  mustHold(lease: LeaseOn, index: number): Promise<void>;
  /** Lets a lease go on for as long as a new one. @returns how long that is, seconds. */
  extend(lease: LeaseOn): Promise<number>;
  /** Gives work back that a worker does not get to. @param pauseS nobody is given a whole render again before so long, seconds; 0 when left out. */
  release(lease: LeaseOn, pauseS?: number): Promise<void>;
  /**
   * Keeps a file of a frame; with the last of the roles that it has the frame is done, and with the last frame the render is to be
   * finished. @param roles all that each frame of this render has.
   */
  keep(projectId: string, lease: LeaseOn, file: FinishedFile, roles: readonly string[]): Promise<void>;
  /** Notes that a frame could not be made. Others may try; after three times it is left with the reason, and the rest goes on. */
  fail(lease: LeaseOn, index: number, why: string): Promise<void>;
  /** A whole render is finished, and lies in a folder if one was asked for; or it cannot be, which is said. */
  finished(lease: LeaseOn, outcome: { readonly folder: string | null } | { readonly failed: string }): Promise<void>;
  /** Lets frames that count as done be made anew, as their files are gone. The render goes on. */
  makeAnew(renderId: string, indexes: readonly number[]): Promise<void>;

  /** Puts a render first in line, before whatever is. */
  first(renderId: string): Promise<void>;
  /** Lets a render wait, or go on: frames in hand are still taken. */
  pause(renderId: string, paused: boolean): Promise<void>;
  cancel(renderId: string): Promise<void>;
  /** Takes up a render again that has failed: what is missing of its frames is made, then it is finished. */
  again(renderId: string): Promise<void>;

  /** Files of finished frames in their order: of one role, or all that leave; of all frames, or one. */
  files(renderId: string, role?: string, index?: number): Promise<FinishedFile[]>;
  /** All files of finished frames, whether they leave or not. */
  allFiles(renderId: string): Promise<FinishedFile[]>;
  /** The file of a finished frame that lies at a path. */
  at(renderId: string, path: string): Promise<FinishedFile | undefined>;
  /** A picture that browsers show: of a render's newest frame, or of one of its own. */
  picture(renderId: string, index?: number): Promise<FinishedFile | undefined>;
  /** Name of a frame's files, without folder and ending, as it was given. */
  nameOf(renderId: string, index: number): Promise<string>;
  /** What drew the finished frames of a render, where that is known: of most frames first. */
  graphics(renderId: string): Promise<string[]>;
  /** Files of a finished frame of any render of a project that is the same as one would be: of the newest. */
  madeAs(projectId: string, key: string): Promise<FinishedFile[]>;
  /** Counts frames that were taken as they were kept. */
  countKept(renderId: string, count: number): Promise<void>;

  /** Says to this process that there may be work. */
  tell(): void;
  /** Tells whoever works in this process that there may be work. Work of other processes is looked for. @returns what ends it. */
  onWork(listener: () => void): () => void;
  /** Renders were taken away with all that is theirs: who works on one gives it up. */
  drop(gone: Gone): void;
  /** Tells whoever works in this process what is not wanted any more, as it was cancelled or dropped. @returns what ends it. */
  onGone(listener: (gone: Gone) => void): () => void;
}
