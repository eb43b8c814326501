import type { OrderPart, Project, RenderOrder } from '@arvex/core';
import {
  cameraAt,
  inverseRotation,
  lightFactorsByName,
  movieRate,
  partFrame,
  partPicture,
  timecodeOf,
  turned,
} from '@arvex/core';
import type { ExrAttributes } from '@arvex/interchange/pictures';

/**
 * What the file of a frame says beside its pixels, so that whoever opens it needs nothing else: rate, timecode, camera, and what each light
 * group was multiplied with. A slate has no camera and no timecode.
 */
export function exrAbout(
  project: Project,
  part: OrderPart,
  order: RenderOrder,
  index: number,
  isSlate: boolean,
): ExrAttributes {
  const { head } = project;
  const { frames, seconds } = movieRate(order, head.rate);
  const rate = { framesPerSecond: [frames, seconds] as const };
  const frame = partFrame(part, index);
  if (isSlate || frame.kind !== 'picture') return rate;
  const timeCode = timecodeOf(project, part, frame.number - head.firstFrame);
  const seen = partPicture(project, part, frame.source);
  const pixelAspectRatio = pixelAspectOf(project, part, index);
  if (seen.cameraId === null) return { ...rate, timeCode, pixelAspectRatio };
  const state = cameraAt(project, seen.cameraId, seen.sceneFlicks, undefined, seen.variationId);
  const { focus, exposure, lens, lightMix } = state;
  return {
    ...rate,
    timeCode,
    pixelAspectRatio,
    aperture: focus.fStop,
    expTime: exposure.shutterSeconds,
    isoSpeed: exposure.iso,
    ...(Number.isFinite(focus.distanceM) && { focus: focus.distanceM }),
    nominalFocalLength: lens.focalLengthMm,
    worldToCamera: worldToCamera(state),
    texts: {
      camera: project.cameras[seen.cameraId]?.name ?? '',
      ndStops: String(exposure.ndStops),
      lightMix: JSON.stringify(lightFactorsByName(project, lightMix)),
    },
  };
}

/** How wide the pixels of a frame are by their height: as the camera delivers that is looked through, else as the project. */
export function pixelAspectOf(project: Project, part: OrderPart, index: number): number {
  const frame = partFrame(part, index);
  const seen = frame.kind === 'picture' ? partPicture(project, part, frame.source) : undefined;
  if (seen?.cameraId == null) return project.head.delivery.pixelAspect;
  return cameraAt(project, seen.cameraId, seen.sceneFlicks, undefined, seen.variationId).framing.delivery.pixelAspect;
}

/** Rows of the matrix that takes points of the world, as row vectors, to a camera's own axes. */
function worldToCamera({
  positionM,
  quaternion,
}: Pick<ReturnType<typeof cameraAt>, 'positionM' | 'quaternion'>): number[] {
  const back = inverseRotation(quaternion);
  const axes = (
    [
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ] as const
  ).map((axis) => turned(axis, back));
  const origin = turned([-positionM[0], -positionM[1], -positionM[2]], back);
  return [...axes.flatMap((row) => [...row, 0]), ...origin, 1];
}
