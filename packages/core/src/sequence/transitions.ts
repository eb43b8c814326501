import type { Entry, Fade } from '../model';
import type { Rate } from '../time';
import { framesInFlicks } from '../time';

/** Frames of a transition before and after its joint. */
export interface Reach {
  readonly before: number;
  readonly after: number;
}

const NO_REACH: Reach = { before: 0, after: 0 };

/** How far a transition reaches over its joint, frames; a centred one of an odd length has the frame more after it. */
export function reachOfTransition(transition: Entry | Fade | null, rate: Rate): Reach {
  if (!transition || !('place' in transition)) return NO_REACH;
  const frames = framesInFlicks(transition.durationFlicks, rate);
  if (transition.place === 'before') return { before: frames, after: 0 };
  if (transition.place === 'after') return { before: 0, after: frames };
  return { before: Math.floor(frames / 2), after: Math.ceil(frames / 2) };
}

/** 0 to 1 as it comes to be: evenly, or slow at both ends as far as the ease says. */
function eased(share: number, ease: number): number {
  return share + (share * share * (3 - 2 * share) - share) * ease;
}

/**
 * Weight of the picture that comes at frame `index` of a dissolve of so many frames. The frames before and after it show one picture
 * alone, so the weights are as many steps between: 1/13 to 12/13 for 12 frames.
 */
export function dissolveWeight(index: number, frames: number, ease: number): number {
  return eased((index + 1) / (frames + 1), ease);
}

/** Weight of the colour at frame `index` of a fade out of so many frames: the last of them shows it alone. A fade in runs backward. */
export function fadeWeight(index: number, frames: number, ease: number): number {
  return eased((index + 1) / frames, ease);
}
