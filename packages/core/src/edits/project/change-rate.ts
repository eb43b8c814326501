import type { Operation, Project, Shot } from '../../model';
import { sequencesInOrder, shotsInOrder } from '../../model';
import { cutOf } from '../../sequence';
import type { Rate } from '../../time';
import { flicksPerFrame, framesInFlicks, framesPerSecond, rateLabel } from '../../time';
import type { Edit } from '../edit';
import { patching } from '../edit';
import type { RetimeOptions, TimeMapping } from '../move';
import {
  cameraPatch,
  mappedCamera,
  mappedMarker,
  mappedMove,
  mappedSequence,
  mappedShot,
  mappedSound,
  retimedSubjects,
} from '../move';

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
  const mapped = mappedShots(project, rate, keep);
  const shots = sequencesInOrder(project).flatMap(({ id }) => shotsInOrder(project, id));
  return shots.map((shot) => {
    const framesBefore = framesInFlicks(shot.durationFlicks, project.head.rate);
    const after = mapped.get(shot.id) ?? shot;
    const framesAfter = framesInFlicks(after.durationFlicks ?? shot.durationFlicks, rate);
    return {
      what: shot.name,
      framesBefore,
      framesAfter,
      secondsBefore: framesBefore / framesPerSecond(project.head.rate),
      secondsAfter: framesAfter / framesPerSecond(rate),
    };
  });
}

/**
 * Gives the project another frame rate. Keeping seconds leaves every key where it is in time and rounds shots to whole
 * frames; keeping frames moves every key, rack and hand so that it stays on its frame number.
 */
export function changeRate(project: Project, rate: Rate, keep: RateKeeps, { along }: RetimeOptions): Edit {
  const mapping = mappingTo(project, rate, keep);
  const frame = flicksPerFrame(rate);
  const operations: Operation[] = [patching(project, 'project', project.head.id, { rate: { ...rate } })];
  for (const [id, parts] of mappedShots(project, rate, keep)) operations.push(patching(project, 'shot', id, parts));
  for (const sequence of Object.values(project.sequences)) {
    operations.push(patching(project, 'sequence', sequence.id, mappedSequence(sequence, mapping, frame)));
  }
  if (keep === 'frames') operations.push(...inTheCut(project, mapping));
  if (keep === 'frames') {
    for (const move of along === 'subjects' ? [] : Object.values(project.moves)) {
      operations.push(patching(project, 'move', move.id, mappedMove(move, mapping)));
    }
    for (const camera of along === 'subjects' ? [] : Object.values(project.cameras)) {
      operations.push(...cameraPatch(project, camera.id, mappedCamera(camera, mapping)));
    }
    if (along !== 'camera') operations.push(...retimedSubjects(project, mapping));
  }
  return { name: `${rateLabel(rate)} frames a second, ${keep} kept`, operations };
}

/**
 * All shots at another rate, by their ids. Where seconds are kept, joints are rounded in the cut: each lies within half a frame of its
 * second, however many come before it, so the picture stays with sound and markers. Each shot lasts a frame at least.
 */
function mappedShots(project: Project, rate: Rate, keep: RateKeeps): Map<string, Partial<Shot>> {
  const frame = flicksPerFrame(rate);
  const mapping = mappingTo(project, rate, keep);
  const before = flicksPerFrame(project.head.rate);
  const mapped = new Map<string, Partial<Shot>>();
  for (const { id } of Object.values(project.sequences)) {
    let end = 0;
    for (const { shot, startFrame, frameCount } of cutOf(project, id).shots) {
      const parts = mappedShot(shot, mapping, frame);
      if (keep === 'frames') {
        mapped.set(shot.id, parts);
        continue;
      }
      const start = Math.max(end, Math.round((startFrame * before) / frame));
      const next = Math.max(start + 1, Math.round(((startFrame + frameCount) * before) / frame));
      mapped.set(shot.id, { ...parts, gapFlicks: (start - end) * frame, durationFlicks: (next - start) * frame });
      end = next;
    }
  }
  return mapped;
}

/** What stands in the cut by its frames: markers, and where sound begins. */
function inTheCut(project: Project, mapping: TimeMapping): Operation[] {
  return [
    ...Object.values(project.markers).map((one) => patching(project, 'marker', one.id, mappedMarker(one, mapping))),
    ...Object.values(project.sounds).map((one) => patching(project, 'sound', one.id, mappedSound(one, mapping))),
  ];
}

function mappingTo(project: Project, rate: Rate, keep: RateKeeps): TimeMapping {
  return { timeScale: keep === 'frames' ? flicksPerFrame(rate) / flicksPerFrame(project.head.rate) : 1 };
}
