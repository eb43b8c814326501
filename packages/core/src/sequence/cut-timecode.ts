import { CoreError } from '../error';
import type { Project } from '../model';
import type { Rate } from '../time';
import { frameAtTimecode, timecodeOfDay } from '../time';

type Sequences = Pick<Project, 'sequences' | 'head'>;

/** Frame that a sequence's timecode begins with, counted from 00:00:00:00; 0 where its label does not exist at the rate. */
export function startFrameOf({ sequences, head }: Sequences, sequenceId: string): number {
  const label = sequences[sequenceId]?.startTimecode;
  return label === undefined ? 0 : frameOrZero(label, head.rate);
}

function frameOrZero(label: string, rate: Rate): number {
  try {
    return frameAtTimecode(label, rate);
  } catch (error) {
    if (!(error instanceof CoreError)) throw error;
    return 0;
  }
}

/** Timecode of a frame of a cut, counted from 0; those before it (in handles) are earlier, never negative. */
export function cutTimecode(project: Sequences, sequenceId: string, frame: number): string {
  return timecodeOfDay(startFrameOf(project, sequenceId) + frame, project.head.rate);
}

/**
 * The frame of a cut (counted from 0) that somebody means: a timecode with colons, the number that the project gives it, or so many
 * frames on or back (`+12`, `-12`) from where one is.
 * @param startFrame of the timecode: of a sequence, or 0 for scene time. @throws CoreError `timecode-form`.
 */
export function frameMeant(text: string, { head }: Pick<Project, 'head'>, startFrame: number, atFrame: number): number {
  const typed = text.trim();
  if (/[:;]/.test(typed)) return frameAtTimecode(typed, head.rate) - startFrame;
  const number = Number(typed.replace('−', '-'));
  if (typed === '' || !Number.isInteger(number))
    throw new CoreError('timecode-form', `"${text}" is no frame and no timecode. Write 1042, +12 or 01:00:02:00.`);
  return /^[+−-]/.test(typed) ? atFrame + number : number - head.firstFrame;
}
