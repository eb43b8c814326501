import type { Exposure, HeldExposure } from '../../exposure';
import { shiftEv } from '../../exposure';
import type { Camera, Entity, Operation, Project, Shot } from '../../model';
import { cutTimesOf, sequencesInOrder, shotsInOrder, TABLE_KINDS, tableOf } from '../../model';
import { cutOf } from '../../sequence';
import type { Rate } from '../../time';
import { flicksPerFrame, framesInFlicks, framesPerSecond, rateLabel } from '../../time';
import type { Edit } from '../edit';
import { patching } from '../edit';
import type { RetimeOptions, TimeMapping } from '../move';
import {
  cameraPatch,
  mappedCamera,
  mappedCutTimes,
  mappedMove,
  mappedSequence,
  mappedShot,
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

/** What another rate does to an exposure that several cameras share, or that is one's own. */
export interface RateExposure {
  /** Whose it is, by name. */
  readonly of: string;
  /** How much more light the shutter lets in at the new rate, stops; below 0 less. */
  readonly stops: number;
  /** Who takes that up; nothing where EV is not held. */
  readonly held: HeldExposure | undefined;
}

/**
 * What another rate does to exposure: a shutter of the same angle is open for another time. Where EV is held, filters, ISO and the angle
 * take it up in their order; f-stops stay, as they are each camera's own. Nothing where the rate is as it was.
 */
export function rateExposures(project: Project, rate: Rate): RateExposure[] {
  const stops = stopsGained(project, rate);
  if (Math.abs(stops) < 1e-9) return [];
  const of = (name: string, exposure: Exposure): RateExposure => {
    return { of: name, stops, held: heldAt(project, rate, exposure)?.held };
  };
  const own = Object.values(project.cameras).flatMap(({ name, own: parts, exposure, variations }) => [
    ...(parts.includes('exposure') ? [of(name, exposure)] : []),
    ...Object.values(variations).flatMap((one) => (one.exposure ? [of(`${name}, ${one.name}`, one.exposure)] : [])),
  ]);
  return [of('The project', project.head.exposure), ...own];
}

function stopsGained({ head }: Pick<Project, 'head'>, rate: Rate): number {
  return Math.log2(framesPerSecond(head.rate) / framesPerSecond(rate));
}

/** An exposure that holds its EV at another rate. */
function heldAt(project: Project, rate: Rate, exposure: Exposure) {
  const stops = stopsGained(project, rate);
  if (!exposure.hold || stops === 0) return undefined;
  const { shutterAngleDeg: shutter, iso, ndStops: nd, absorbers } = exposure;
  const others = absorbers.filter((part) => part !== 'stop');
  const held = shiftEv({ stop: 1, shutter, iso, nd }, stops, others);
  const { values } = held;
  return { held, exposure: { ...exposure, shutterAngleDeg: values.shutter, iso: values.iso, ndStops: values.nd } };
}

function heldParts(project: Project, rate: Rate, camera: Camera): Partial<Camera> {
  const exposure = camera.own.includes('exposure') ? heldAt(project, rate, camera.exposure)?.exposure : undefined;
  const variations = Object.fromEntries(
    Object.entries(camera.variations).map(([id, one]) => {
      const own = one.exposure && heldAt(project, rate, one.exposure)?.exposure;
      return [id, own ? { ...one, exposure: own } : one];
    }),
  );
  return { ...(exposure && { exposure }), variations };
}

/**
 * Gives the project another frame rate. Keeping seconds leaves every key where it is in time and rounds shots to whole
 * frames; keeping frames moves every key, rack and hand so that it stays on its frame number. EV that is held is kept ({@link rateExposures}).
 */
export function changeRate(project: Project, rate: Rate, keep: RateKeeps, { along }: RetimeOptions): Edit {
  const mapping = mappingTo(project, rate, keep);
  const frame = flicksPerFrame(rate);
  const exposure = heldAt(project, rate, project.head.exposure)?.exposure ?? project.head.exposure;
  const operations: Operation[] = [patching(project, 'project', project.head.id, { rate: { ...rate }, exposure })];
  for (const [id, parts] of mappedShots(project, rate, keep)) operations.push(patching(project, 'shot', id, parts));
  for (const sequence of Object.values(project.sequences)) {
    operations.push(patching(project, 'sequence', sequence.id, mappedSequence(sequence, mapping, frame)));
  }
  if (keep === 'frames') operations.push(...inTheCut(project, mapping));
  if (keep === 'frames') {
    for (const move of along === 'subjects' ? [] : Object.values(project.moves)) {
      operations.push(patching(project, 'move', move.id, mappedMove(move, mapping)));
    }
    if (along !== 'camera') operations.push(...retimedSubjects(project, mapping));
  }
  for (const camera of Object.values(project.cameras)) {
    const times = keep === 'frames' && along !== 'subjects' ? mappedCamera(camera, mapping) : {};
    operations.push(...cameraPatch(project, camera.id, { ...times, ...heldParts(project, rate, camera) }));
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

/** What stands in the cut by its frames, of every kind that has times there. */
function inTheCut(project: Project, mapping: TimeMapping): Operation[] {
  return TABLE_KINDS.filter((kind) => cutTimesOf(kind).length > 0).flatMap((kind) =>
    Object.values<Entity>(tableOf(project, kind)).map((one) =>
      patching(project, kind, one.id, mappedCutTimes(kind, one, mapping)),
    ),
  );
}

function mappingTo(project: Project, rate: Rate, keep: RateKeeps): TimeMapping {
  return { timeScale: keep === 'frames' ? flicksPerFrame(rate) / flicksPerFrame(project.head.rate) : 1 };
}
