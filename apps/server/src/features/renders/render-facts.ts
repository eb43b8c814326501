import type { Project, Render, RenderJob } from '@arvex/core';
import {
  cameraFacts,
  camerasSeenIn,
  flicksAtFrame,
  framesPerSecond,
  orderSentence,
  outputSize,
  timecodeAtFrame,
} from '@arvex/core';

/** What machines and people have to know of a sequence of frames, beside it: rate, first frame, size, camera, colour. */
export function renderFacts(project: Project, job: RenderJob, render: Render): { json: string; note: string } {
  const { order, part } = job;
  const { head } = project;
  const cameras = camerasOf(project, job).map((id) => project.cameras[id]?.name ?? '');
  const first = part.runs.find((run) => run.kind === 'pictures');
  const number = first?.kind === 'pictures' ? first.number : render.firstFrame;
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
    frameCount: render.frameCount,
    everyNthFrame: order.frames.step,
    timecode: timecodeAtFrame(number - head.firstFrame, head.rate),
    widthPx: render.widthPx,
    heightPx: render.heightPx,
    pixelAspect: head.delivery.pixelAspect,
    cameras,
    camera: cameraOf(project, job),
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

function noteOf(
  facts: {
    readonly project: string;
    readonly name: string;
    readonly timecode: string;
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
    `${perSecond} frames a second${exact}, first frame ${render.firstFrame}, ${render.frameCount} frames${step > 1 ? `, one of every ${step}` : ''}.`,
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

/** Every setting of the only camera, as it is at its first frame. */
function cameraOf(project: Project, job: RenderJob): Record<string, string> | null {
  const [only, ...others] = camerasOf(project, job);
  if (only === undefined || others.length > 0 || !project.cameras[only]) return null;
  const first = job.part.runs.find((run) => run.kind === 'pictures');
  const frame = job.part.subject.kind === 'camera' && first?.kind === 'pictures' ? first.from : 0;
  const facts = cameraFacts(project, only, flicksAtFrame(Math.max(0, frame), project.head.rate));
  return Object.fromEntries(facts.map(({ label, text }) => [label, text]));
}
