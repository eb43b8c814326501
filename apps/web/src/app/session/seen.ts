import type { PictureLayer, Project, Shot } from '@arvex/core';
import { cutTimecode, flicksAtFrame, pictureAt, timecodeAtFrame } from '@arvex/core';

/** What the playhead stands on: the cut, or one camera alone on scene time. */
export type PlayMode = 'cut' | 'camera';

/** What is seen at the playhead. */
export interface Seen {
  readonly mode: PlayMode;
  /** Counted from 0: in the cut, or in scene time. */
  readonly frame: number;
  readonly frameNumber: number;
  readonly timecode: string;
  readonly shot: Shot | undefined;
  /** `undefined` outside the cut, or in a shot without a camera. */
  readonly cameraId: string | undefined;
  /** The variation that the shot shows; null is the one that the camera wears. */
  readonly variationId: string | null;
  readonly sceneFlicks: number;
  /** What is mixed at this frame of the cut; nothing where one camera is looked through alone. */
  readonly layers: readonly PictureLayer[];
}

/** What is seen at a frame of the cut, or of one camera. */
export function seenAt(
  project: Project,
  mode: PlayMode,
  frame: number,
  sequenceId: string,
  cameraId: string | undefined,
): Seen {
  const { rate, firstFrame } = project.head;
  const shared = { mode, frame, frameNumber: firstFrame + frame, timecode: timecodeAtFrame(frame, rate) };
  if (mode === 'camera') {
    const known = cameraId !== undefined && project.cameras[cameraId] ? cameraId : undefined;
    return {
      ...shared,
      shot: undefined,
      cameraId: known,
      variationId: null,
      sceneFlicks: flicksAtFrame(frame, rate),
      layers: [],
    };
  }
  const picture = pictureAt(project, sequenceId, frame);
  return {
    ...shared,
    timecode: cutTimecode(project, sequenceId, frame),
    shot: picture?.shot,
    cameraId: picture?.cameraId ?? undefined,
    variationId: picture?.variationId ?? null,
    sceneFlicks: picture?.sceneFlicks ?? flicksAtFrame(frame, rate),
    layers: picture?.layers ?? [],
  };
}
