import { AnimationClip, AnimationMixer, NumberKeyframeTrack, InterpolateSmooth, Object3D } from 'three';
import type { Camera, Project, Vector } from '@arvex/core';
import {
  cameraAt,
  channelValuesAt,
  comfortOf,
  cutOf,
  flicksAtFrame,
  HANDHELD_DEFAULTS,
  moveOf,
  pictureAt,
  projectSchema,
  RIG_DEFAULTS,
  statesOf,
} from '@arvex/core';
import { BENCH_CHANNELS, benchId, largeProject } from './large-project';
import type { Line } from './measure';
import { medianMs } from './measure';

const RATE = { frames: 24, seconds: 1 };
const KEYS = 40;
const FRAMES = 20_000;

/** Times the core: cameras, the cut, and opening a large project. */
export async function benchCore(): Promise<Line[]> {
  const project = largeProject(1, 1, KEYS);
  const times = Array.from({ length: FRAMES }, (_, i) => flicksAtFrame((i * 7.3) % (KEYS * 6), RATE));
  const cameraId = benchId(1000);
  const ours = await medianMs(9, () => times.forEach((time) => cameraAt(project, cameraId, time)));
  const [camera, move] = [project.cameras[cameraId] as Camera, moveOf(project, cameraId)];
  const mixer = mixerOf(project);
  const theirs = await medianMs(9, () => times.forEach((time) => mixer.setTime(time / 705_600_000)));
  const large = largeProject(200, 500, 13);
  const small = largeProject(2, 5, 13);
  const json = JSON.stringify(large);
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
      value: perSecond(await medianMs(9, () => times.forEach((time) => channelValuesAt(camera, move, time)))),
      baseline: 'three AnimationMixer, the same channels',
      baselineValue: perSecond(theirs),
      budget: 'ratio 1',
    },
    ...(await benchMoves(project, cameraId, times)),
    {
      what: 'scrub a cut of 500 shots and 20 800 keys',
      unit: 'ms a frame',
      value: await scrubMs(large),
      baseline: 'a cut of 5 shots',
      baselineValue: await scrubMs(small),
      budget: 'ratio near 1',
    },
    {
      what: 'read and validate 500 shots, 200 cameras, 20 800 keys',
      unit: 'ms',
      value: await medianMs(9, () => projectSchema.parse(JSON.parse(json))),
      baseline: 'JSON.parse alone',
      baselineValue: await medianMs(9, () => JSON.parse(json) as unknown),
      budget: 'under 2 000',
    },
  ];
}

/** Rigs over plain keys, many keys over few, and the comfort of a long move over its cameras alone. */
async function benchMoves(project: Project, cameraId: string, times: readonly number[]): Promise<Line[]> {
  const all = (one: Project) => medianMs(9, () => times.forEach((time) => cameraAt(one, cameraId, time)));
  const plain = await all(project);
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
  const railed = await all({ ...project, cameras: { ...project.cameras, [cameraId]: rigged } });
  const [few, many] = [largeProject(1, 1, 10), largeProject(1, 1, 10_000)];
  const [fewMs, manyMs] = [await all(few), await all(many)];
  const tenMinutes = flicksAtFrame(14_400, RATE);
  const long = largeProject(1, 1, 2400);
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
      value: await medianMs(5, () => comfortOf(long, cameraId, 0, tenMinutes)),
      baseline: 'its cameras alone',
      baselineValue: await medianMs(5, () => statesOf(long, cameraId, 0, tenMinutes)),
      budget: 'under 1 000',
    },
  ];
}

const perSecond = (ms: number) => (FRAMES / ms) * 1000;

async function scrubMs(project: Project): Promise<number> {
  const sequenceId = benchId(3);
  const { frameCount } = cutOf(project, sequenceId);
  const frames = Array.from({ length: 2000 }, (_, i) => (i * 977) % frameCount);
  const all = await medianMs(9, () => {
    for (const frame of frames) {
      const picture = pictureAt(project, sequenceId, frame);
      if (picture?.cameraId) cameraAt(project, picture.cameraId, picture.sceneFlicks);
    }
  });
  return all / frames.length;
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
