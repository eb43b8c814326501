import type { Curve, KeyMapping } from '../../curve';
import { mappedCurve, mirrored } from '../../curve';
import type {
  Camera,
  Entity,
  EntityKind,
  Move,
  Placement,
  PlacementMotion,
  Sequence,
  Shot,
  Showing,
} from '../../model';
import { ALL_KINDS, cutTimesOf } from '../../model';
import { FLICKS_PER_SECOND } from '../../time';

/** Another time for each time: scaled about one, then shifted. Flicks; a scale is above 0. */
export type TimeMapping = Pick<KeyMapping, 'timeScale' | 'aboutFlicks' | 'shiftFlicks'>;

/**
 * Every place of a project that holds a scene time or a length of it, by kind: whoever changes time changes it here, so that
 * nothing is left behind. A field that ends in `Flicks` and is not named here fails a test.
 */
export const TIMES: Readonly<Partial<Record<EntityKind, readonly string[]>>> = {
  move: ['curves.atFlicks', 'marks.atFlicks', 'marks.leftOutKeys.atFlicks'],
  camera: ['focus.racks.startFlicks', 'focus.racks.durationFlicks', 'handheld.fromFlicks', 'handheld.toFlicks'],
  placement: ['motion.curves.atFlicks', 'motion.startFlicks', 'clip.startFlicks'],
  shot: [
    'sceneStartFlicks',
    'durationFlicks',
    'retime.ramp.afterFlicks',
    'retime.holds.afterFlicks',
    'retime.holds.durationFlicks',
    'gapFlicks',
    'entry.durationFlicks',
    'fadeOut.durationFlicks',
    'handleInFlicks',
    'handleOutFlicks',
    'takes.sceneStartFlicks',
    'takes.durationFlicks',
    'takes.retime.ramp.afterFlicks',
    'takes.retime.holds.afterFlicks',
    'takes.retime.holds.durationFlicks',
  ],
  sequence: ['handleInFlicks', 'handleOutFlicks'],
  ...Object.fromEntries(ALL_KINDS.flatMap((kind) => (cutTimesOf(kind).length > 0 ? [[kind, cutTimesOf(kind)]] : []))),
};

/** A time as a mapping puts it. */
function mappedTime(flicks: number, { timeScale = 1, aboutFlicks = 0, shiftFlicks = 0 }: TimeMapping): number {
  return Math.round(aboutFlicks + (flicks - aboutFlicks) * timeScale + shiftFlicks);
}

/** A move in another time: its keys and marks, and what its speed curve says, which is a time too. */
export function mappedMove(move: Move, mapping: TimeMapping): Pick<Move, 'curves' | 'marks'> {
  const { timeScale = 1, aboutFlicks = 0, shiftFlicks = 0 } = mapping;
  const clock: KeyMapping = {
    ...mapping,
    valueScale: timeScale,
    aboutValue: aboutFlicks / FLICKS_PER_SECOND,
    shiftValue: shiftFlicks / FLICKS_PER_SECOND,
  };
  const curves = Object.entries(move.curves).map(([channel, curve]) => [
    channel,
    mappedCurve(curve, channel === 'timeWarp' ? clock : mapping),
  ]);
  return {
    curves: Object.fromEntries(curves) as Move['curves'],
    marks: mappedMarks(
      move.marks,
      (flicks) => mappedTime(flicks, mapping),
      (curve) => mappedCurve(curve, mapping),
    ),
  };
}

/**
 * A move backward: at `sceneSum` − t the camera is where it was at t. Its clock shows `clockSum` less what it showed, and its
 * keys are turned about that, so a speed curve keeps its meaning.
 */
export function mirroredMove(move: Move, sceneSum: number, clockSum: number): Pick<Move, 'curves' | 'marks'> {
  const about = clockSum / FLICKS_PER_SECOND;
  const curves = Object.entries(move.curves).map(([channel, curve]) => [
    channel,
    channel === 'timeWarp'
      ? mappedCurve(mirrored(curve, sceneSum), { valueScale: -1, aboutValue: about / 2 })
      : mirrored(curve, clockSum),
  ]);
  return {
    curves: Object.fromEntries(curves) as Move['curves'],
    marks: mappedMarks(
      move.marks,
      (flicks) => clockSum - flicks,
      (curve) => mirrored(curve, clockSum),
    ),
  };
}

function mappedMarks(
  marks: Move['marks'],
  time: (flicks: number) => number,
  keys: (curve: Curve) => Curve,
): Move['marks'] {
  return marks.map((mark) => ({
    ...mark,
    atFlicks: time(mark.atFlicks),
    ...(mark.leftOutKeys && {
      leftOutKeys: Object.fromEntries(
        Object.entries(mark.leftOutKeys).map(([channel, key]) => [channel, keys([key])[0] ?? key]),
      ),
    }),
  }));
}

/** What of a camera itself holds times, in another time: its racks, and when a hand holds it. Nothing where nothing does. */
export function mappedCamera({ focus, handheld }: Camera, mapping: TimeMapping): Partial<Camera> {
  const { timeScale = 1 } = mapping;
  const time = (flicks: number | null) => (flicks === null ? null : mappedTime(flicks, mapping));
  const racks = focus.racks.map((rack) => {
    const startFlicks = mappedTime(rack.startFlicks, mapping);
    return { ...rack, startFlicks, durationFlicks: Math.round(rack.durationFlicks * timeScale) };
  });
  return {
    ...(racks.length > 0 && { focus: { ...focus, racks } }),
    ...handOf({ ...handheld, fromFlicks: time(handheld.fromFlicks), toFlicks: time(handheld.toFlicks) }),
  };
}

/** The same backward: who had the focus last has it first, and a hand that came in goes out. */
export function mirroredCamera({ focus, handheld }: Camera, sceneSum: number): Partial<Camera> {
  const back = (flicks: number | null) => (flicks === null ? null : sceneSum - flicks);
  const whom = [{ subjectId: focus.subjectId, point: focus.point }, ...focus.racks];
  const racks = focus.racks
    .map((rack, i) => ({
      ...rack,
      subjectId: whom[i]?.subjectId ?? rack.subjectId,
      point: whom[i]?.point ?? rack.point,
      startFlicks: sceneSum - rack.startFlicks - rack.durationFlicks,
    }))
    .reverse();
  const last = focus.racks.at(-1);
  const { fromFlicks, toFlicks, fadeInS, fadeOutS } = handheld;
  const turned = { fromFlicks: back(toFlicks), toFlicks: back(fromFlicks), fadeInS: fadeOutS, fadeOutS: fadeInS };
  return {
    ...(last && { focus: { ...focus, subjectId: last.subjectId, point: last.point, racks } }),
    ...handOf({ ...handheld, ...turned }),
  };
}

/** A hand that has no times of its own is as it was. */
function handOf(handheld: Camera['handheld']): Partial<Camera> {
  return handheld.fromFlicks === null && handheld.toFlicks === null ? {} : { handheld };
}

/** How a thing of the set moves, in another time: its keys, its walk and the clip that it plays. Nothing where it stands. */
export function mappedPlacement({ motion, clip }: Placement, mapping: TimeMapping): Partial<Placement> | undefined {
  const { timeScale = 1 } = mapping;
  const parts: { motion?: PlacementMotion; clip?: Placement['clip'] } = {};
  if (motion.kind === 'keys') {
    const curves = Object.entries(motion.curves).map(([channel, curve]) => [channel, mappedCurve(curve, mapping)]);
    parts.motion = { ...motion, curves: Object.fromEntries(curves) as typeof motion.curves };
  } else if (motion.kind === 'path') {
    parts.motion = {
      ...motion,
      startFlicks: mappedTime(motion.startFlicks, mapping),
      speedMps: motion.speedMps / timeScale,
    };
  }
  if (clip) {
    parts.clip = { ...clip, startFlicks: mappedTime(clip.startFlicks, mapping), rate: clip.rate / timeScale };
  }
  return Object.keys(parts).length > 0 ? parts : undefined;
}

/**
 * When a shot begins in its scene, how long it lasts and all its other times, in another time and on whole frames. Both its ends are
 * rounded, so shots that met still meet; it lasts a frame at least.
 */
export function mappedShot(shot: Shot, mapping: TimeMapping, frameFlicks: number): Partial<Shot> {
  const length = lengthIn(mapping, frameFlicks);
  const orNone = (flicks: number | null) => (flicks === null ? null : length(flicks));
  return {
    ...mappedShowing(shot, mapping, frameFlicks),
    gapFlicks: length(shot.gapFlicks),
    entry: shot.entry.kind === 'cut' ? shot.entry : mappedFade(shot.entry, length),
    fadeOut: shot.fadeOut && mappedFade(shot.fadeOut, length),
    handleInFlicks: orNone(shot.handleInFlicks),
    handleOutFlicks: orNone(shot.handleOutFlicks),
    takes: shot.takes.map((take) => ({ ...take, ...mappedShowing(take, mapping, frameFlicks) })),
  };
}

/** Handles of a sequence in another time. */
export function mappedSequence(sequence: Sequence, mapping: TimeMapping, frameFlicks: number): Partial<Sequence> {
  const length = lengthIn(mapping, frameFlicks);
  return { handleInFlicks: length(sequence.handleInFlicks), handleOutFlicks: length(sequence.handleOutFlicks) };
}

/** Where something of a kind stands in the cut, in another time: a marker, a piece of sound (which lasts as long as it does). */
export function mappedCutTimes(
  kind: EntityKind,
  entity: Entity,
  mapping: TimeMapping,
): Readonly<Record<string, number>> {
  const times = entity as unknown as Readonly<Record<string, number>>;
  return Object.fromEntries(
    cutTimesOf(kind).map((field) => [field, Math.max(0, mappedTime(times[field] ?? 0, mapping))]),
  );
}

function mappedShowing(showing: Showing, mapping: TimeMapping, frameFlicks: number): Partial<Showing> {
  const { sceneStartFlicks, durationFlicks, retime } = showing;
  const onFrame = (flicks: number) => Math.round(mappedTime(flicks, mapping) / frameFlicks) * frameFlicks;
  const length = lengthIn(mapping, frameFlicks);
  const start = onFrame(sceneStartFlicks);
  const { timeScale = 1 } = mapping;
  const after = <T extends { readonly afterFlicks: number }>(one: T): T => ({
    ...one,
    afterFlicks: Math.round(one.afterFlicks * timeScale),
  });
  return {
    sceneStartFlicks: start,
    durationFlicks: Math.max(frameFlicks, onFrame(sceneStartFlicks + durationFlicks) - start),
    retime: {
      ...retime,
      ramp: retime.ramp.map(after),
      holds: retime.holds.map((hold) => ({ ...after(hold), durationFlicks: length(hold.durationFlicks) })),
    },
  };
}

function mappedFade<T extends { readonly durationFlicks: number }>(fade: T, length: (flicks: number) => number): T {
  return { ...fade, durationFlicks: length(fade.durationFlicks) };
}

/** Lengths in another time, on whole frames. */
function lengthIn({ timeScale = 1 }: TimeMapping, frameFlicks: number): (flicks: number) => number {
  return (flicks) => Math.round((flicks * timeScale) / frameFlicks) * frameFlicks;
}
