import type { Project, Retime, Shot } from '../model';
import { flicksAtFrame, frameAtFlicks } from '../time';
import type { Cut, CutShot } from './cut';
import { cutOf, shotAtFrame } from './cut';
import { sceneTimeOf } from './shot-time';
import { sceneGoneBy } from './speed';
import { dissolveWeight, fadeWeight, reachOfTransition } from './transitions';

/** A shot's speed, and how long after its beginning: from the cut inward to the shot whose camera is seen. */
interface TimeStep {
  readonly retime: Retime;
  readonly afterFlicks: number;
}

/** A camera as one of what is mixed at a frame. */
export interface CameraLayer {
  readonly kind: 'camera';
  readonly weight: number;
  readonly shot: Shot;
  /** Counted from 0 within the shot; beyond its ends in its handles. */
  readonly shotFrame: number;
  readonly cameraId: string;
  /** The variation that the shot shows; null is the one that the camera wears. */
  readonly variationId: string | null;
  /** Scene time at which the camera and the subjects are seen, flicks. */
  readonly sceneFlicks: number;
  readonly steps: readonly TimeStep[];
}

/** A colour, or black because nothing is there. */
interface ColourLayer {
  readonly kind: 'colour';
  readonly weight: number;
  /** sRGB, as six hexadecimal digits. */
  readonly colour: string;
}

export type PictureLayer = CameraLayer | ColourLayer;

/** What is seen at one frame of the cut. Weights of the layers add up to 1; they are mixed in linear light. */
export interface CutPicture {
  /** Whose frame it is; in a gap nobody's. */
  readonly shot: Shot | undefined;
  /** Counted from 0 within the shot. */
  readonly shotFrame: number;
  /** `null` when the shot has no camera, and in a gap. */
  readonly cameraId: string | null;
  /** The variation that the shot shows; null is the one that its camera wears. */
  readonly variationId: string | null;
  readonly sceneFlicks: number;
  readonly layers: readonly PictureLayer[];
}

const BLACK = '#000000';

/**
 * What is seen at a frame of the cut, counted from 0; `undefined` outside it. O(log shots).
 * The first frame of a shot is the first that shows its camera: nothing is interpolated across a cut.
 */
export function pictureAt(project: Project, sequenceId: string, frame: number): CutPicture | undefined {
  const cut = cutOf(project, sequenceId);
  const placed = shotAtFrame(cut, frame);
  if (!placed) return undefined;
  const { rate } = project.head;
  const index = Math.floor(frame) - placed.startFrame;
  const layers = layersAt(project, cut, placed, index);
  if (index < 0) {
    const sceneFlicks = sceneTimeOf(placed, 0, rate);
    return { shot: undefined, shotFrame: index, cameraId: null, variationId: null, sceneFlicks, layers };
  }
  const inner = layers.find((layer) => layer.kind === 'camera');
  const nested = placed.shot.insideId !== null && inner?.kind === 'camera';
  return {
    shot: placed.shot,
    shotFrame: index,
    cameraId: nested ? inner.cameraId : placed.shot.cameraId,
    variationId: nested ? inner.variationId : placed.shot.variationId,
    sceneFlicks: nested ? inner.sceneFlicks : sceneTimeOf(placed, index, rate),
    layers,
  };
}

/**
 * What a shot shows by itself at a frame of its own, counted from 0: without what it comes out of or goes over into. Before and past
 * its ends in its handles. `undefined` where the sequence has no such shot.
 */
export function pictureOfShot(
  project: Project,
  sequenceId: string,
  shotId: string,
  shotFrame: number,
): CutPicture | undefined {
  const placed = cutOf(project, sequenceId).shots.find(({ shot }) => shot.id === shotId);
  if (!placed) return undefined;
  const layers = shownBy(project, placed, shotFrame);
  const inner = layers.find((layer) => layer.kind === 'camera');
  const { shot } = placed;
  return {
    shot,
    shotFrame,
    cameraId: inner?.cameraId ?? null,
    variationId: inner?.variationId ?? null,
    sceneFlicks: inner?.sceneFlicks ?? sceneTimeOf(placed, shotFrame, project.head.rate),
    layers,
  };
}

/**
 * Scene time of a layer a little before or after its frame, flicks: where the shutter is open. Only the layer's own shot is asked, so
 * nothing is ever blurred across a joint, and slow motion blurs as much less as it is slower.
 */
export function sceneTimeAround(layer: CameraLayer, offsetFlicks: number): number {
  return later(layer, offsetFlicks).sceneFlicks;
}

/** A layer a little later than its frame. */
function later(layer: CameraLayer, byFlicks: number): CameraLayer {
  let gone = byFlicks;
  const steps = layer.steps.map(({ retime, afterFlicks }) => {
    const step = { retime, afterFlicks: afterFlicks + gone };
    gone = sceneGoneBy(retime, step.afterFlicks) - sceneGoneBy(retime, afterFlicks);
    return step;
  });
  return { ...layer, sceneFlicks: layer.sceneFlicks + Math.round(gone), steps };
}

/** What is mixed at a frame of a shot: itself, what it comes out of, and what it goes over into. `index` below 0 lies in its gap. */
function layersAt(project: Project, { shots }: Cut, placed: CutShot, index: number): readonly PictureLayer[] {
  const { rate } = project.head;
  const [before, after] = [shots[placed.index - 1], shots[placed.index + 1]];
  const left = placed.frameCount - index;
  const isGap = index < 0;
  const joined = placed.gapFrames === 0 ? before : undefined;
  const next = after?.gapFrames === 0 ? after : undefined;
  // A fade that reaches over its joint takes the frames there from the neighbour.
  const coming = next?.shot.entry.kind === 'fade' ? reachOfTransition(next.shot.entry, rate).before : 0;
  if (next && !isGap && left <= coming) return entered(project, undefined, next, -left);
  const going = joined && placed.shot.entry.kind === 'cut' ? reachOfTransition(joined.shot.fadeOut, rate).after : 0;
  if (joined && !isGap && index < going) return faded(project, joined, joined.frameCount + index);
  if (isGap) return [{ kind: 'colour', weight: 1, colour: BLACK }];
  const own = entered(project, joined, placed, index);
  const reach = next?.shot.entry.kind === 'dissolve' ? reachOfTransition(next.shot.entry, rate) : undefined;
  if (!next || !reach || left > reach.before || next.shot.entry.kind !== 'dissolve') return own;
  const weight = dissolveWeight(reach.before - left, reach.before + reach.after, next.shot.entry.ease);
  return mixed(own, faded(project, next, -left), weight);
}

/** A shot as it comes out of the one before it, or out of a colour. */
function entered(
  project: Project,
  before: CutShot | undefined,
  placed: CutShot,
  index: number,
): readonly PictureLayer[] {
  const { entry } = placed.shot;
  const own = faded(project, placed, index);
  if (entry.kind === 'cut') return own;
  const reach = reachOfTransition(entry, project.head.rate);
  if (index >= reach.after) return own;
  const frames = reach.before + reach.after;
  const at = index + reach.before;
  if (entry.kind === 'fade') {
    return mixed(own, [colourLayer(entry.colour)], fadeWeight(frames - 1 - at, frames, entry.ease));
  }
  if (!before) return own;
  return mixed(faded(project, before, before.frameCount + index), own, dissolveWeight(at, frames, entry.ease));
}

/** A shot at a frame of its own, or of its handles, as it fades out. */
function faded(project: Project, placed: CutShot, index: number): readonly PictureLayer[] {
  const shown = shownBy(project, placed, index);
  const { fadeOut } = placed.shot;
  if (!fadeOut) return shown;
  const reach = reachOfTransition(fadeOut, project.head.rate);
  const at = index - placed.frameCount + reach.before;
  const frames = reach.before + reach.after;
  if (at < 0 || frames === 0) return shown;
  return mixed(shown, [colourLayer(fadeOut.colour)], fadeWeight(Math.min(at, frames - 1), frames, fadeOut.ease));
}

/** What a shot shows at a frame of its own: a camera, or what its inner sequence shows then. */
function shownBy(project: Project, placed: CutShot, index: number): readonly PictureLayer[] {
  const { rate } = project.head;
  const { shot } = placed;
  const sceneFlicks = sceneTimeOf(placed, index, rate);
  const step: TimeStep = { retime: shot.retime, afterFlicks: flicksAtFrame(index, rate) };
  if (shot.insideId !== null) {
    const isHandle = index < 0 || index >= placed.frameCount;
    return shownInside(project, shot.insideId, sceneFlicks, step, isHandle);
  }
  if (shot.cameraId === null) return [colourLayer(BLACK)];
  const { cameraId, variationId } = shot;
  return [{ kind: 'camera', weight: 1, shot, shotFrame: index, cameraId, variationId, sceneFlicks, steps: [step] }];
}

/**
 * What a sequence shows at a time of its own: between its frames too, so that slow motion goes on evenly. In the handles of the shot that
 * shows it, its first and last shots go on beyond its ends as they would in their own handles; elsewhere nothing is seen there.
 */
function shownInside(project: Project, insideId: string, atFlicks: number, step: TimeStep, isHandle: boolean) {
  const { rate } = project.head;
  const cut = cutOf(project, insideId);
  // A time that is a rounded flick off its frame is still that frame's.
  const frame = frameAtFlicks(atFlicks + 1, rate);
  const inside = shotAtFrame(cut, frame);
  const placed = inside ?? (isHandle ? (frame < 0 ? cut.shots[0] : cut.shots.at(-1)) : undefined);
  if (!placed) return [colourLayer(BLACK)];
  const index = frame - placed.startFrame;
  const shownThen = inside ? layersAt(project, cut, placed, index) : faded(project, placed, index);
  return shownThen.map((layer) => {
    if (layer.kind !== 'camera') return layer;
    const shown = later(layer, atFlicks - flicksAtFrame(frame, rate));
    return { ...shown, steps: [step, ...shown.steps] };
  });
}

/** Two pictures, the second with so much weight. */
function mixed(
  first: readonly PictureLayer[],
  second: readonly PictureLayer[],
  weight: number,
): readonly PictureLayer[] {
  const scaled = (layers: readonly PictureLayer[], by: number) =>
    layers.map((layer) => ({ ...layer, weight: layer.weight * by }));
  return [...scaled(first, 1 - weight), ...scaled(second, weight)];
}

function colourLayer(colour: string): ColourLayer {
  return { kind: 'colour', weight: 1, colour };
}
