import type { Project } from '../model';
import type { HeardPart } from '../sequence';
import { audible, heardBetween, sampleAt } from '../sequence';
import { flicksAtFrame } from '../time';
import type { OrderPart } from './part';
import { framesOfPart } from './part';

/** What is heard with a part of an order, and how long that lasts, samples. */
export interface HeardOfPart {
  readonly parts: readonly HeardPart[];
  readonly count: number;
}

/** The sound under a part: silence while a slate is shown; a camera by itself has none. */
export function heardOfPart(project: Project, part: OrderPart): HeardOfPart {
  const { subject } = part;
  const flicks = (frames: number) => flicksAtFrame(frames, project.head.rate);
  const step = part.runs.reduce((most, run) => (run.kind === 'pictures' ? Math.max(most, run.step) : most), 1);
  const count = sampleAt(flicks(framesOfPart(part) * step));
  const sequence = subject.kind === 'camera' ? undefined : project.sequences[subject.sequenceId];
  if (!sequence) return { parts: [], count };
  const all = Object.values(project.sounds).filter(({ sequenceId }) => sequenceId === sequence.id);
  const sounds = audible(all, sequence);
  const heard: HeardPart[] = [];
  let frames = 0;
  for (const run of part.runs) {
    const at = sampleAt(flicks(frames));
    frames += run.count * step;
    if (run.kind !== 'pictures') continue;
    const first = run.number - project.head.firstFrame;
    const [firstFlicks, endFlicks] = [flicks(first), flicks(first + run.count * step)];
    const stretch = { firstFlicks, endFlicks, startFlicks: firstFlicks, loops: false };
    const own = heardBetween(sounds, stretch, 0, sampleAt(flicks(frames)) - at);
    heard.push(...own.map((one) => ({ ...one, at: one.at + at })));
  }
  return { parts: heard, count };
}
