import type { Project } from '../model';
import type { HeardPart } from '../sequence';
import { audible, heardBetween } from '../sequence';
import { framesPerSecond } from '../time';
import type { OrderPart } from './part';
import { framesOfPart } from './part';

/** What is heard with a part of an order, and how long that lasts, seconds. */
export interface HeardOfPart {
  readonly parts: readonly HeardPart[];
  readonly seconds: number;
}

/** The sound under a part: silence while a slate is shown; a camera by itself has none. */
export function heardOfPart(project: Project, part: OrderPart): HeardOfPart {
  const { subject } = part;
  const seconds = (frames: number) => frames / framesPerSecond(project.head.rate);
  const step = part.runs.reduce((most, run) => (run.kind === 'pictures' ? Math.max(most, run.step) : most), 1);
  const whole = seconds(framesOfPart(part) * step);
  const sequence = subject.kind === 'camera' ? undefined : project.sequences[subject.sequenceId];
  if (!sequence) return { parts: [], seconds: whole };
  const own = Object.values(project.sounds).filter(({ sequenceId }) => sequenceId === sequence.id);
  const sounds = audible(own, sequence);
  const heard: HeardPart[] = [];
  let at = 0;
  for (const run of part.runs) {
    const length = seconds(run.count * step);
    if (run.kind === 'pictures') {
      const fromS = seconds(run.number - project.head.firstFrame);
      const stretch = { firstS: fromS, endS: fromS + length, startS: fromS, loops: false };
      heard.push(...heardBetween(sounds, stretch, 0, length).map((one) => ({ ...one, atS: one.atS + at })));
    }
    at += length;
  }
  return { parts: heard, seconds: whole };
}
