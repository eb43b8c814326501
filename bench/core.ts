import { AnimationClip, AnimationMixer, NumberKeyframeTrack, InterpolateSmooth, Object3D } from 'three';
import type { Camera, Project, Vector } from '@arvex/core';
import {
  applied,
  cameraAt,
  changeOf,
  channelValuesAt,
  comfortOf,
  cutOf,
  deletePlacements,
  flicksAtFrame,
  HANDHELD_DEFAULTS,
  moveOf,
  pictureAt,
  projectSchema,
  RIG_DEFAULTS,
  setCurves,
  statesOf,
} from '@arvex/core';
import { benchCutting } from './cutting';
import { BENCH_CHANNELS, benchId, largeProject, withPieces } from './large-project';
import type { Line } from './measure';
import { pairMs } from './measure';

const RATE = { frames: 24, seconds: 1 };
const KEYS = 40;
const FRAMES = 20_000;
const SCRUBBED = 2000;
const [KEYED = 'positionX'] = BENCH_CHANNELS;

/** Times the core: cameras, the cut, and opening a large project. */
export async function benchCore(): Promise<Line[]> {
  const project = largeProject(1, 1, KEYS);
  const times = Array.from({ length: FRAMES }, (_, i) => flicksAtFrame((i * 7.3) % (KEYS * 6), RATE));
  const cameraId = benchId(1000);
  const [camera, move] = [project.cameras[cameraId] as Camera, moveOf(project, cameraId)];
  const mixer = mixerOf(project);
  const mixed = () => times.forEach((time) => mixer.setTime(time / 705_600_000));
  const [ours, theirs] = await pairMs(9, () => times.forEach((time) => cameraAt(project, cameraId, time)), mixed);
  const channels = () => times.forEach((time) => channelValuesAt(camera, move, time));
  const [alone, theirsAlone] = await pairMs(9, channels, mixed);
  const large = largeProject(200, 500, 13);
  const small = largeProject(2, 5, 13);
  const json = JSON.stringify(large);
  const [scrubbed, scrubbedSmall] = await pairMs(9, scrubbing(large), scrubbing(small));
  const [read, parsed] = await pairMs(
    9,
    () => projectSchema.parse(JSON.parse(json)),
    () => JSON.parse(json) as unknown,
  );
  return [
    {
      what: `cameraAt, ${BENCH_CHANNELS.length} channels of ${KEYS} keys`,
      unit: 'frames/s',
      value: perSecond(ours),
      baseline: 'three AnimationMixer, the same channels',
      baselineValue: perSecond(theirs),
      budget: 'over 100 000',
    },
    {
      what: 'the same channels alone, without the camera',
      unit: 'frames/s',
      value: perSecond(alone),
      baseline: 'three AnimationMixer, the same channels',
      baselineValue: perSecond(theirsAlone),
      budget: 'ratio 1',
    },
    ...(await benchMoves(project, cameraId, times)),
    {
      what: 'scrub a cut of 500 shots and 20 800 keys',
      unit: 'ms a frame',
      value: scrubbed / SCRUBBED,
      baseline: 'a cut of 5 shots',
      baselineValue: scrubbedSmall / SCRUBBED,
      budget: 'ratio near 1',
    },
    {
      what: 'read and validate 500 shots, 200 cameras, 20 800 keys',
      unit: 'ms',
      value: read,
      baseline: 'JSON.parse alone',
      baselineValue: parsed,
      budget: 'under 2 000',
    },
    ...(await benchEdits()),
    ...(await benchCutting()),
  ];
}

/** What an edit of something large costs the page, and sends. */
async function benchEdits(): Promise<Line[]> {
  const keys = 20_000;
  const long = largeProject(1, 1, keys);
  const cameraId = benchId(1000);
  const curve = long.moves[cameraId]?.curves[KEYED] ?? [];
  const moved = curve.map((key, i) => (i === keys / 2 ? { ...key, value: key.value + 1 } : key));
  const move = () => changeOf(setCurves(long, cameraId, 'Move a key', { [KEYED]: moved }, 0), benchId(9));
  const [moveMs, copyMs] = await pairMs(
    15,
    () => applied(long, move()),
    () => structuredClone(curve),
  );
  const crowded = withPieces(long, 2000);
  const ids = Object.keys(crowded.placements);
  const [goneMs, tableMs] = await pairMs(
    9,
    () => applied(crowded, changeOf(deletePlacements(crowded, ids), benchId(9))),
    () => structuredClone(crowded.placements),
  );
  return [
    {
      what: 'move one key of 20 000 on a channel, in the page',
      unit: 'ms',
      value: moveMs,
      baseline: 'a deep copy of its curve',
      baselineValue: copyMs,
      budget: 'under 8',
    },
    {
      what: 'bytes sent for that key',
      unit: 'bytes',
      value: JSON.stringify(move()).length,
      baseline: 'its curve as JSON',
      baselineValue: JSON.stringify(curve).length,
      budget: 'under 10 000',
    },
    {
      what: 'take 2 000 things out, in the page',
      unit: 'ms',
      value: goneMs,
      baseline: 'a deep copy of their table',
      baselineValue: tableMs,
      budget: 'under 150',
    },
  ];
}

/** Rigs over plain keys, many keys over few, and the comfort of a long move over its cameras alone. */
async function benchMoves(project: Project, cameraId: string, times: readonly number[]): Promise<Line[]> {
  const all = (one: Project) => () => times.forEach((time) => cameraAt(one, cameraId, time));
  const rig: Camera['rig'] = {
    kind: 'rail',
    ...RIG_DEFAULTS.base,
    closed: false,
    by: 'distance',
    along: 3,
    cameraM: [0, 1.5, 0],
    straight: [],
    nodesM: Array.from({ length: 8 }, (_, i): Vector => [i * 2, 0, Math.sin(i) * 2]),
  };
  const before = project.cameras[cameraId] as Camera;
  const rigged = { ...before, rig, handheld: { ...HANDHELD_DEFAULTS, on: true } };
  const onRail = all({ ...project, cameras: { ...project.cameras, [cameraId]: rigged } });
  const [railed, plain] = await pairMs(9, onRail, all(project));
  const [manyMs, fewMs] = await pairMs(9, all(largeProject(1, 1, 10_000)), all(largeProject(1, 1, 10)));
  const tenMinutes = flicksAtFrame(14_400, RATE);
  const long = largeProject(1, 1, 2400);
  const [judged, alone] = await pairMs(
    5,
    () => comfortOf(long, cameraId, 0, tenMinutes),
    () => statesOf(long, cameraId, 0, tenMinutes),
  );
  return [
    {
      what: 'cameraAt on a bent rail, in the hand',
      unit: 'frames/s',
      value: perSecond(railed),
      baseline: 'the same camera on sticks',
      baselineValue: perSecond(plain),
      budget: 'over 100 000',
    },
    {
      what: 'cameraAt with 10 000 keys a channel',
      unit: 'frames/s',
      value: perSecond(manyMs),
      baseline: 'with 10 keys',
      baselineValue: perSecond(fewMs),
      budget: 'as log keys',
    },
    {
      what: 'comfort of a move of ten minutes',
      unit: 'ms',
      value: judged,
      baseline: 'its cameras alone',
      baselineValue: alone,
      budget: 'under 1 000',
    },
  ];
}

const perSecond = (ms: number) => (FRAMES / ms) * 1000;

/** Goes to frames all over a cut. */
function scrubbing(project: Project): () => void {
  const sequenceId = benchId(3);
  const { frameCount } = cutOf(project, sequenceId);
  const frames = Array.from({ length: SCRUBBED }, (_, i) => (i * 977) % frameCount);
  return () => {
    for (const frame of frames) {
      const picture = pictureAt(project, sequenceId, frame);
      if (picture?.cameraId) cameraAt(project, picture.cameraId, picture.sceneFlicks);
    }
  };
}

/** The same keys in three's own animation system, each channel on a property of its own. */
function mixerOf(project: Project): AnimationMixer {
  const [move] = Object.values(project.moves);
  const root = new Object3D();
  const target = root as unknown as Record<string, number>;
  const tracks = Object.entries(move?.curves ?? {}).map(([channel, keys]) => {
    target[channel] = 0;
    const seconds = keys.map((key) => key.atFlicks / 705_600_000);
    return new NumberKeyframeTrack(
      `.${channel}`,
      seconds,
      keys.map((key) => key.value),
      InterpolateSmooth,
    );
  });
  const mixer = new AnimationMixer(root);
  mixer.clipAction(new AnimationClip('move', -1, tracks)).play();
  return mixer;
}
