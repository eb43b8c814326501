import type { Project, Render, RenderJob } from '@arvex/core';
import {
  cameraAt,
  cameraFacts,
  camerasSeenIn,
  cutOf,
  framesPerSecond,
  lightFactorsByName,
  orderSentence,
  outputSize,
  partPicture,
  timecodeOf,
  wornVariation,
} from '@arvex/core';

/**
 * What machines and people have to know of a sequence of frames, beside it: rate, first and last frame, handles, size, camera, colour.
 * What is said of a camera is as it is at the first frame of the part. @param graphics what drew its frames.
 */
export function renderFacts(
  project: Project,
  job: RenderJob,
  render: Render,
  graphics: readonly string[],
): { json: string; note: string } {
  const { order, part } = job;
  const { head } = project;
  const cameras = camerasOf(project, job).map((id) => project.cameras[id]?.name ?? '');
  const pictures = part.runs.flatMap((run) => (run.kind === 'pictures' ? [run] : []));
  const slateCount = part.runs.reduce((sum, run) => sum + (run.kind === 'slate' ? run.count : 0), 0);
  const number = pictures[0]?.number ?? render.firstFrame;
  const last = pictures.at(-1);
  const lastNumber = last ? last.number + (last.count - 1) * last.step : number;
  const seen = firstSeen(project, job);
  const colour = {
    pictures: order.look ? 'sRGB (IEC 61966-2-1), display-referred' : 'sRGB (IEC 61966-2-1), light as it is',
    movies: 'BT.709, limited range',
    exr: 'linear, Rec. 709 primaries; 1 is where the camera’s exposure clips',
  };
  const json = {
    project: head.name,
    version: job.version,
    name: part.title,
    frameRate: { frames: render.rate.frames, seconds: render.rate.seconds },
    firstFrame: render.firstFrame,
    lastFrame: lastNumber,
    frameCount: render.frameCount - slateCount,
    slateFrames: slateCount,
    everyNthFrame: order.frames.step,
    timecode: timecodeOf(project, part, number - head.firstFrame),
    lastTimecode: timecodeOf(project, part, lastNumber - head.firstFrame),
    shot: shotOf(project, job),
    widthPx: render.widthPx,
    heightPx: render.heightPx,
    pixelAspect: seen?.state.framing.delivery.pixelAspect ?? head.delivery.pixelAspect,
    cameras,
    camera: cameraOf(project, seen),
    variation: seen === undefined ? null : (seen.variation?.name ?? 'as it is'),
    lightMix: seen === undefined ? null : lightFactorsByName(project, seen.state.lightMix),
    graphics,
    colour,
    ordered: orderSentence(project, order)
      .map(({ words }) => words)
      .join(', '),
    date: job.date,
  };
  return {
    json: `${JSON.stringify(json, null, 2)}\n`,
    note: noteOf(json, render, order.frames.step, outputSize(order, part).widthPx),
  };
}

/** What a movie says of itself beside its pictures. Slates before the first picture count back from it. */
export function movieFacts(
  project: Project,
  job: RenderJob,
): { readonly pixelAspect: number; readonly timecode: string } {
  const { part } = job;
  const first = part.runs.findIndex((run) => run.kind === 'pictures');
  const run = part.runs[first];
  const slates = part.runs.slice(0, Math.max(0, first)).reduce((sum, { count }) => sum + count, 0);
  const number = run?.kind === 'pictures' ? run.number : project.head.firstFrame;
  const seen = firstSeen(project, job);
  return {
    pixelAspect: seen?.state.framing.delivery.pixelAspect ?? project.head.delivery.pixelAspect,
    timecode: timecodeOf(project, part, number - project.head.firstFrame - slates),
  };
}

function noteOf(
  facts: {
    readonly project: string;
    readonly name: string;
    readonly timecode: string;
    readonly lastFrame: number;
    readonly frameCount: number;
    readonly slateFrames: number;
    readonly pixelAspect: number;
    readonly shot: ShotFacts | null;
    readonly graphics: readonly string[];
    readonly ordered: string;
    readonly colour: { readonly pictures: string };
  },
  render: Render,
  step: number,
  widthPx: number,
): string {
  const perSecond = Number(framesPerSecond(render.rate).toFixed(3));
  const exact = render.rate.seconds === 1 ? '' : ` (exactly ${render.rate.frames}/${render.rate.seconds})`;
  return [
    `${facts.project}, ${facts.name}, ${render.name}`,
    '',
    `${perSecond} frames a second${exact}, frames ${render.firstFrame} to ${facts.lastFrame}: ${facts.frameCount}${step > 1 ? `, one of every ${step}` : ''}.`,
    ...(facts.slateFrames > 0 ? [`${facts.slateFrames} frames of slate beside them, which have no number.`] : []),
    ...(facts.shot
      ? [
          `In the cut from ${facts.shot.cutIn} to ${facts.shot.cutOut}; handles of ${facts.shot.handleIn} and ${facts.shot.handleOut} frames. Take ${facts.shot.take}.`,
        ]
      : []),
    ...(facts.pixelAspect === 1 ? [] : [`Pixels are ${facts.pixelAspect} times as wide as high.`]),
    ...(facts.graphics.length > 1 ? [`Drawn by different graphics: ${facts.graphics.join('; ')}.`] : []),
    `${widthPx} × ${render.heightPx} pixels. Timecode of the first frame ${facts.timecode}.`,
    `Pictures: ${facts.colour.pictures}. EXR: linear. Movies: BT.709.`,
    `Ordered: ${facts.ordered}.`,
    '',
  ].join('\n');
}

function camerasOf(project: Project, { part }: RenderJob): string[] {
  const { subject } = part;
  if (subject.kind === 'camera') return [subject.cameraId];
  if (subject.kind === 'cut') return [...camerasSeenIn(project, subject.sequenceId)];
  const shot = project.shots[subject.shotId];
  return shot?.cameraId != null ? [shot.cameraId] : [];
}

/** Where a shot that is rendered by itself lies in the cut: numbers of frames, and what is beyond them. */
interface ShotFacts {
  readonly name: string;
  readonly take: string;
  readonly cutIn: number;
  readonly cutOut: number;
  readonly handleIn: number;
  readonly handleOut: number;
}

function shotOf(project: Project, { part }: RenderJob): ShotFacts | null {
  const { subject } = part;
  if (subject.kind !== 'shot') return null;
  const placed = cutOf(project, subject.sequenceId).shots.find(({ shot }) => shot.id === subject.shotId);
  const pictures = part.runs.flatMap((run) => (run.kind === 'pictures' ? [run] : []));
  const [first, last] = [pictures[0], pictures.at(-1)];
  if (!placed || !first || !last) return null;
  const end = last.from + (last.count - 1) * last.step;
  const { firstFrame } = project.head;
  return {
    name: placed.shot.name,
    take: placed.shot.takeName,
    cutIn: firstFrame + placed.startFrame,
    cutOut: firstFrame + placed.startFrame + placed.frameCount - 1,
    handleIn: Math.max(0, -first.from),
    handleOut: Math.max(0, end - (placed.frameCount - 1)),
  };
}

/** The only camera of a part, as it is seen at the part's first frame; nothing where there are several. */
function firstSeen(project: Project, job: RenderJob) {
  const [only, ...others] = camerasOf(project, job);
  const camera = project.cameras[only ?? ''];
  const first = job.part.runs.find((run) => run.kind === 'pictures');
  if (!camera || others.length > 0 || first?.kind !== 'pictures') return undefined;
  const { sceneFlicks, variationId } = partPicture(project, job.part, first.from);
  const state = cameraAt(project, camera.id, sceneFlicks, undefined, variationId);
  return { camera, sceneFlicks, variationId, state, variation: wornVariation(camera, variationId) };
}

/** Every setting of a camera as it is seen. */
function cameraOf(project: Project, seen: ReturnType<typeof firstSeen>): Record<string, string> | null {
  if (!seen) return null;
  const facts = cameraFacts(project, seen.camera.id, seen.sceneFlicks, seen.variationId);
  return Object.fromEntries(facts.map(({ label, text }) => [label, text]));
}
