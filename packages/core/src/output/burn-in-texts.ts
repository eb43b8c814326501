import { cameraAt } from '../camera';
import type { CameraState } from '../camera';
import type { Project } from '../model';
import { filmBackName } from '../optics';
import { cutTimecode } from '../sequence';
import { timecodeOfDay } from '../time';
import { lengthText } from '../units';
import type { BurnIn, BurntIn } from './order';
import type { OrderNumber } from './names';
import { shotOf } from './names';
import type { OrderPart, PartFrame } from './part';
import { partFrame } from './part';
import { partPicture } from './part-picture';
import { sceneEv } from '../exposure';

/** What each burn-in says at a frame of a part; a logo says nothing. Where nobody is looked through, what a camera would say is a dash. */
export function burnInTexts(
  project: Project,
  part: OrderPart,
  number: OrderNumber,
  index: number,
): (item: Pick<BurnIn, 'what' | 'text'>) => string {
  const frame = partFrame(part, index);
  const shot = shotOf(project, part, frame);
  const seen = frame.kind === 'picture' ? seenAt(project, part, frame.source) : firstOfSlate(project, part, frame);
  const state = seen && cameraAt(project, seen.cameraId, seen.sceneFlicks, undefined, seen.variationId);
  const { head } = project;
  const shown = frame.kind === 'picture' ? frame.number : undefined;
  const { subject } = part;
  const known: Readonly<Record<Exclude<BurntIn, 'text'>, string>> = {
    project: head.name,
    sequence: subject.kind === 'camera' ? '' : (project.sequences[subject.sequenceId]?.name ?? ''),
    shot: shot ? shotWords(shot) : subject.kind === 'camera' || ofWhole(frame) ? part.title : 'gap',
    camera: state ? (project.cameras[state.cameraId]?.name ?? '–') : '–',
    ...ofCamera(project, state),
    frame: shown === undefined ? '' : String(shown),
    timecode: shown === undefined ? '' : timecodeOf(project, part, shown - head.firstFrame),
    date: number.date,
    version: number.version,
    logo: '',
  };
  return ({ what, text }) => (what === 'text' ? text : known[what]);
}

/** Timecode of a frame of a part: of its sequence, or of the scene where it is of a camera by itself. */
export function timecodeOf(project: Project, { subject }: OrderPart, frame: number): string {
  return subject.kind === 'camera'
    ? timecodeOfDay(frame, project.head.rate)
    : cutTimecode(project, subject.sequenceId, frame);
}

/** Whether a slate is that of a whole cut: it tells no shot and no camera. */
function ofWhole(frame: PartFrame): boolean {
  return frame.kind === 'slate' && frame.shotId === null && frame.cameraId === null;
}

function shotWords({ name, takes, takeName }: NonNullable<ReturnType<typeof shotOf>>): string {
  return takes.length > 0 ? `${name} take ${takeName}` : name;
}

function seenAt(project: Project, part: OrderPart, source: number) {
  const { cameraId, variationId, sceneFlicks } = partPicture(project, part, source);
  return cameraId === null ? undefined : { cameraId, variationId, sceneFlicks };
}

/** A slate tells the camera as it is at the shot's first frame; that of a whole cut tells none. */
function firstOfSlate(project: Project, part: OrderPart, slate: Extract<PartFrame, { kind: 'slate' }>) {
  if (ofWhole(slate)) return undefined;
  const at = part.runs.findIndex((run) => run.kind === 'slate' && run.shotId === slate.shotId);
  const next = part.runs[at + 1];
  return next?.kind === 'pictures' ? seenAt(project, part, next.from) : undefined;
}

type OfCamera = 'lens' | 'back' | 'stop' | 'focus' | 'ev' | 'iso' | 'shutter';

function ofCamera(project: Project, state: CameraState | undefined): Readonly<Record<OfCamera, string>> {
  if (!state) return { lens: '–', back: '–', stop: '–', focus: '–', ev: '–', iso: '–', shutter: '–' };
  const { lens, filmBack, focus, exposure } = state;
  const rounded = (value: number, decimals: number) => String(Number(value.toFixed(decimals)));
  return {
    lens: lens.parallelWidthM === null ? `${rounded(lens.focalLengthMm, 1)} mm` : 'parallel',
    back: filmBackName(filmBack),
    stop: `f/${rounded(focus.fStop, 1)}`,
    focus: Number.isFinite(focus.distanceM) ? lengthText(focus.distanceM, project.head.displayUnit) : '∞',
    ev: `EV ${sceneEv(exposure).toFixed(1)}`,
    iso: `ISO ${rounded(exposure.iso, 0)}`,
    shutter: `${rounded(exposure.shutterAngleDeg, 1)}° 1/${rounded(1 / exposure.shutterSeconds, 0)} s`,
  };
}
