import type { CameraState, CameraValues } from '../../camera';
import { cameraAt, channelValuesAt, rigChannels, sceneAt, sceneOfMark, sceneSpanOf } from '../../camera';
import type { Curve, Key } from '../../curve';
import { MOST_KEYS, thinned, valueAt } from '../../curve';
import { CoreError } from '../../error';
import type { Camera, Channel, ChannelValues, Move, Project } from '../../model';
import { AIM_CHANNELS, CHANNEL_FACES, existing, HEAD_CHANNELS, moveOf, RIG_PLACE_CHANNELS, TURNING } from '../../model';
import type { Vector } from '../../space';
import { unwrappedNear } from '../../space';
import { flicksPerFrame } from '../../time';
import type { Edit } from '../edit';
import { patching } from '../edit';
import type { CloseEdit } from './closeness';
import { closeness, judgedSpan } from './closeness';
import { moveOperations } from './curves';

/** Tolerances of baking: a key is left out where the curve without it stays this near. */
const BAKED: Readonly<Record<'m' | '°' | 'mm' | 'other', number>> = { m: 0.0003, '°': 0.003, mm: 0.003, other: 0.001 };

/**
 * Turns any rig, its aim, its hand and its speed curve into keys of a camera on sticks: one for each frame of the scene first,
 * thinned so that it stays within a millimetre and a hundredth of a degree of where it went. Says how closely. What only repeats
 * or goes on after its last key is keyed to the end of the scene. Marks stay, at the times at which they are seen.
 * @param span from when to when; all in which the camera may move where it is left out.
 * @throws CoreError `out-of-range` when that is more frames than a curve has keys.
 */
export function bakeRig(
  project: Project,
  cameraId: string,
  atFlicks: number,
  span?: readonly [number, number],
): CloseEdit {
  const camera = existing(project, 'camera', cameraId);
  const move = moveOf(project, cameraId);
  const [from, to] = span ?? judgedSpan(project, cameraId);
  const name = `Bake the move of ${camera.name} to keys`;
  if (isBaked(camera, move)) {
    return {
      edit: { name, operations: [patching(project, 'camera', cameraId, {})] },
      deviation: { metres: 0, degrees: 0 },
    };
  }
  const marks = (move?.marks ?? []).map((mark) => ({ ...mark, atFlicks: sceneOfMark(move, mark) }));
  const keep = new Set(marks.map((mark) => mark.atFlicks));
  const times = timesOf(project, from, to, [...keep, ...ownTimes(move)]);
  const retimed = retimedChannels(camera, move);
  const dense = sampled(times, finestGap(project), (time) => {
    const values = channelValuesAt(camera, move, time);
    return { ...poseValues(cameraAt(project, cameraId, time)), ...chosen(values, retimed) };
  });
  const curves: Record<string, Curve> = { ...move?.curves };
  for (const channel of [...rigChannels(camera), ...RIG_PLACE_CHANNELS, ...BAKED_IN]) curves[channel] = [];
  const onFrame = isOnFrame(project, from);
  for (const [channel, keys] of Object.entries(dense)) curves[channel] = baked(channel as Channel, keys, keep, onFrame);
  const resting = channelValuesAt(camera, move, atFlicks);
  const { positionM, panDeg, tiltDeg, rollDeg } = cameraAt(project, cameraId, atFlicks);
  const parts: Partial<Camera> = {
    rig: { kind: 'sticks' },
    aim: { kind: 'free' },
    handheld: { ...camera.handheld, on: false },
    headOffsetMm: [0, 0, 0],
    pose: { positionM: [...positionM] as Vector, panDeg, tiltDeg, rollDeg },
    lens: { ...camera.lens, focalLengthMm: resting.focalLength, shiftXMm: resting.shiftX, shiftYMm: resting.shiftY },
    focus: { ...camera.focus, distanceM: resting.focusDistance, fStop: resting.fStop },
  };
  const edit: Edit = {
    name,
    operations: [
      patching(project, 'camera', cameraId, parts),
      ...moveOperations(project, cameraId, { curves, after: {}, marks }),
    ],
  };
  return { edit, deviation: closeness(project, edit, cameraId, [from, to]) };
}

/** Whether a camera's move is plain keys already. */
function isBaked({ rig, aim, handheld, headOffsetMm }: Camera, move: Move | undefined): boolean {
  const endless = Object.values(move?.after ?? {}).some((after) => after !== 'stay');
  const offset = headOffsetMm.some((mm) => mm !== 0);
  return (
    rig.kind === 'sticks' && aim.kind === 'free' && !handheld.on && !offset && !endless && !move?.curves['timeWarp']
  );
}

/** A short move is looked at more finely than frame by frame, at about so many moments. */
const MOMENTS = 240;

/** A frame is divided into so many parts at most. */
const FINEST = 8;

const finestGap = (project: Project): number => Math.floor(flicksPerFrame(project.head.rate) / FINEST);

/**
 * Every frame of a stretch of scene time and its end, some times more, and moments between where they are few: in order, each once.
 * What is between frames may be seen once the move is stretched.
 */
export function timesOf(project: Project, from: number, to: number, more: readonly number[]): number[] {
  const frame = flicksPerFrame(project.head.rate);
  const frames = Math.ceil((to - from) / frame);
  if (frames >= MOST_KEYS) {
    throw new CoreError('out-of-range', `These are ${frames} frames; ${MOST_KEYS - 1} can be baked at once.`, 'span');
  }
  const each = Math.max(1, Math.min(FINEST, Math.ceil(MOMENTS / Math.max(1, frames))));
  const moments = Array.from({ length: frames * each + 1 }, (_, i) => Math.round(from + (i * frame) / each));
  const inside = more.filter((time) => time >= from && time <= to);
  return [...new Set([...moments, ...inside])].sort((a, b) => a - b);
}

function isOnFrame(project: Project, from: number): (flicks: number) => boolean {
  const frame = flicksPerFrame(project.head.rate);
  return (flicks) => Math.abs((flicks - from) / frame - Math.round((flicks - from) / frame)) < 1e-6;
}

/** Scene times at which something of a move is keyed. */
function ownTimes(move: Move | undefined): number[] {
  const times = Object.values(move?.curves ?? {}).flatMap((curve) => curve.map((key) => key.atFlicks));
  return times.length > MOST_KEYS ? [] : times.flatMap((time) => sceneAt(move, time) ?? []);
}

/** Channels of lens, focus, exposure and light that a speed curve or a repetition leads: they are keyed too. */
function retimedChannels(camera: Camera, move: Move | undefined): Channel[] {
  if (!move) return [];
  const others = new Set<string>([...rigChannels(camera), ...RIG_PLACE_CHANNELS, ...HEAD_CHANNELS, ...BAKED_IN]);
  const led = (channel: string) => move.curves['timeWarp'] ?? (move.after[channel] ?? 'stay') !== 'stay';
  return Object.keys(move.curves).filter(
    (channel): channel is Channel => !others.has(channel) && Boolean(led(channel)),
  );
}

const chosen = (values: CameraValues, channels: readonly Channel[]): ChannelValues =>
  Object.fromEntries(channels.map((channel) => [channel, values[channel]]));

/**
 * A smooth key for each time, angles going on from one to the next; and between two of them where a smooth curve would miss what
 * is there, as at a sharp bend that is ridden fast.
 * @param finestFlicks no keys are put in nearer together than this.
 */
function sampled(
  times: readonly number[],
  finestFlicks: number,
  valuesAt: (flicks: number) => ChannelValues,
): Record<string, Key[]> {
  const values = new Map(times.map((time) => [time, valuesAt(time)]));
  let gaps = times.flatMap((from, i): Gap[] => (i + 1 < times.length ? [[from, times[i + 1] as number]] : []));
  let curves = smoothCurves(values);
  while (gaps.length > 0 && values.size < MOST_KEYS) {
    const missed = gaps.flatMap(([from, to]): Gap[] => {
      const middle = Math.round((from + to) / 2);
      if (middle - from < finestFlicks || values.size >= MOST_KEYS) return [];
      const there = valuesAt(middle);
      if (!isMissed(curves, middle, there)) return [];
      values.set(middle, there);
      return [
        [from, middle],
        [middle, to],
      ];
    });
    if (missed.length > 0) curves = smoothCurves(values);
    gaps = missed;
  }
  return curves;
}

/** Two times that follow each other. */
type Gap = readonly [number, number];

function smoothCurves(values: ReadonlyMap<number, ChannelValues>): Record<string, Key[]> {
  const curves: Record<string, Key[]> = {};
  for (const [atFlicks, there] of [...values].sort(([a], [b]) => a - b)) {
    for (const [channel, value] of Object.entries(there) as [Channel, number][]) {
      const keys = (curves[channel] ??= []);
      const near = TURNING.has(channel) ? unwrappedNear(value, keys.at(-1)?.value ?? value) : value;
      keys.push({ atFlicks, value: near, shape: 'smooth' });
    }
  }
  return curves;
}

/** Whether curves are off by more than half of what thinning may leave out. */
function isMissed(curves: Record<string, Curve>, atFlicks: number, there: ChannelValues): boolean {
  return (Object.entries(there) as [Channel, number][]).some(([channel, value]) => {
    const fit = valueAt(curves[channel] ?? [], atFlicks) ?? value;
    const wanted = TURNING.has(channel) ? unwrappedNear(value, fit) : value;
    return Math.abs(fit - wanted) > toleranceOf(channel) / 2;
  });
}

/** As few keys as say it; none where nothing moves. */
function baked(
  channel: Channel,
  keys: readonly Key[],
  keep: ReadonlySet<number>,
  liked: (flicks: number) => boolean,
): Curve {
  const [first] = keys;
  const still = keys.every(({ value }) => Math.abs(value - (first?.value ?? value)) < 1e-9);
  return still ? [] : thinned(keys, toleranceOf(channel), keep, liked).curve;
}

/** What baked keys no longer need: they say where the camera is and looks at every time. */
const BAKED_IN: readonly Channel[] = [...AIM_CHANNELS, 'handheld', 'timeWarp'];

function poseValues({ positionM: [x, y, z], panDeg, tiltDeg, rollDeg }: CameraState): ChannelValues {
  return { positionX: x, positionY: y, positionZ: z, pan: panDeg, tilt: tiltDeg, roll: rollDeg };
}

/** How near a thinned curve of a channel stays, in its unit. */
export function toleranceOf(channel: Channel): number {
  const unit = channel in CHANNEL_FACES ? CHANNEL_FACES[channel as keyof typeof CHANNEL_FACES].unit : 'stops';
  return unit === 'm' || unit === '°' || unit === 'mm' ? BAKED[unit] : BAKED.other;
}

/**
 * Curves of a move as they are seen, in scene time: what a speed curve led is keyed frame by frame and thinned. As they are
 * where there is none.
 */
export function inSceneTime(project: Project, cameraId: string): Readonly<Record<string, Curve>> {
  const camera = existing(project, 'camera', cameraId);
  const move = moveOf(project, cameraId);
  if (!move?.curves['timeWarp']) return move?.curves ?? {};
  const channels = Object.keys(move.curves).filter((channel): channel is Channel => channel !== 'timeWarp');
  const [from, to] = sceneSpanOf(move) ?? [0, 0];
  const times = timesOf(project, from, to, ownTimes(move));
  const dense = sampled(times, finestGap(project), (time) => chosen(channelValuesAt(camera, move, time), channels));
  const onFrame = isOnFrame(project, from);
  return Object.fromEntries(
    Object.entries(dense).map(([channel, keys]) => [
      channel,
      thinned(keys, toleranceOf(channel as Channel), new Set(), onFrame).curve,
    ]),
  );
}
