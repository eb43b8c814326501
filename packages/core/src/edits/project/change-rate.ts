import type { Operation, Project } from '../../model';
import { compareOrder } from '../../model';
import type { Rate } from '../../time';
import { flicksPerFrame, framesInFlicks, framesPerSecond, rateLabel } from '../../time';
import type { Edit } from '../edit';
import { patching } from '../edit';
import type { RetimeOptions } from '../move';
import { mappedMove, retimedSubjects } from '../move';

/** What a change of rate keeps: how long things last, or how many frames. */
export type RateKeeps = 'seconds' | 'frames';

/** What a change of rate does to one thing, for the preview. */
export interface RateEffect {
  readonly what: string;
  readonly framesBefore: number;
  readonly framesAfter: number;
  readonly secondsBefore: number;
  readonly secondsAfter: number;
}

/** How long the shots last at another rate, by both ways of keeping. */
export function rateEffects(project: Project, rate: Rate, keep: RateKeeps): RateEffect[] {
  const shots = Object.values(project.shots).sort(compareOrder);
  return shots.map(({ name, durationFlicks }) => {
    const framesBefore = framesInFlicks(durationFlicks, project.head.rate);
    const framesAfter = keep === 'frames' ? framesBefore : Math.max(1, framesInFlicks(durationFlicks, rate));
    return {
      what: name,
      framesBefore,
      framesAfter,
      secondsBefore: framesBefore / framesPerSecond(project.head.rate),
      secondsAfter: framesAfter / framesPerSecond(rate),
    };
  });
}

/**
 * Gives the project another frame rate. Keeping seconds leaves every key where it is in time and rounds shots to whole
 * frames; keeping frames moves every key so that it stays on its frame number.
 */
export function changeRate(project: Project, rate: Rate, keep: RateKeeps, { subjectsFollow }: RetimeOptions): Edit {
  const scale = flicksPerFrame(rate) / flicksPerFrame(project.head.rate);
  const frame = flicksPerFrame(rate);
  const mapping = { timeScale: keep === 'frames' ? scale : 1 };
  const time = (flicks: number) => Math.round((flicks * mapping.timeScale) / frame) * frame;
  const operations: Operation[] = [patching(project, 'project', project.head.id, { rate: { ...rate } })];
  for (const shot of Object.values(project.shots)) {
    const timed = {
      sceneStartFlicks: time(shot.sceneStartFlicks),
      durationFlicks: Math.max(frame, time(shot.durationFlicks)),
    };
    operations.push(patching(project, 'shot', shot.id, timed));
  }
  if (keep === 'frames') {
    for (const move of Object.values(project.moves)) {
      operations.push(patching(project, 'move', move.id, mappedMove(move, mapping)));
    }
    if (subjectsFollow) operations.push(...retimedSubjects(project, mapping));
  }
  return { name: `${rateLabel(rate)} frames a second, ${keep} kept`, operations };
}
