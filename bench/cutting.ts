import { cameraLane, continuityOf, cutOf, pictureAt, previewed, rollJoint } from '@arvex/core';
import { benchId, largeProject } from './large-project';
import type { Line } from './measure';
import { pairMs } from './measure';

const FRAMES = 50_000;
const RUNS = 9;

/** Times a cut of 500 shots of 200 cameras: its frames, a joint as it is pulled, its lanes and what is said of its joints. */
export async function benchCutting(): Promise<Line[]> {
  const [large, small] = [largeProject(200, 500, 13), largeProject(2, 5, 13)];
  const sequenceId = benchId(3);
  const asked = (project: typeof large) => {
    const { frameCount } = cutOf(project, sequenceId);
    return () => {
      for (let i = 0; i < FRAMES; i++) pictureAt(project, sequenceId, (i * 977) % frameCount);
    };
  };
  const [manyMs, fewMs] = await pairMs(RUNS, asked(large), asked(small));
  const joint = cutOf(large, sequenceId).shots[250]?.shot.id ?? '';
  let by = 0;
  const [pulledMs, copiedMs] = await pairMs(
    RUNS,
    () => cutOf(previewed(large, rollJoint(large, joint, ((by += 1) % 20) + 1)), sequenceId),
    () => structuredClone(large.shots),
  );
  const lanes = Object.keys(large.cameras).slice(0, 12);
  const [lanesMs, parsedMs] = await pairMs(
    RUNS,
    () => lanes.forEach((id) => cameraLane(large, sequenceId, id)),
    () => structuredClone(large.shots),
  );
  const [judgedMs, judgedFewMs] = await pairMs(
    3,
    () => continuityOf(large, sequenceId),
    () => continuityOf(small, sequenceId),
  );
  return [
    {
      what: 'pictureAt in a cut of 500 shots',
      unit: 'frames/s',
      value: (FRAMES / manyMs) * 1000,
      baseline: 'a cut of 5 shots',
      baselineValue: (FRAMES / fewMs) * 1000,
      budget: 'over 300 000',
    },
    {
      what: 'a joint pulled by a frame, 500 shots',
      unit: 'ms',
      value: pulledMs,
      baseline: 'a copy of the shots',
      baselineValue: copiedMs,
      budget: 'under 50',
    },
    {
      what: 'lanes of 12 cameras under 500 shots',
      unit: 'ms',
      value: lanesMs,
      baseline: 'a copy of the shots',
      baselineValue: parsedMs,
      budget: 'under 50',
    },
    {
      what: 'continuity of 500 shots, in a worker',
      unit: 'ms',
      value: judgedMs,
      baseline: 'of 5 shots',
      baselineValue: judgedFewMs,
      budget: 'ratio near 100',
    },
  ];
}
