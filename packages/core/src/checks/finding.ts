import type { Edit } from '../edits';
import type { CameraPart, Project } from '../model';

/** What a finding is about: where in the work it is mended follows from that. */
export type FindingTopic = 'set' | 'camera' | 'move' | 'sequence' | 'output';

/** Something that would spoil the output, with the place where it is mended. */
export interface Finding {
  readonly code:
    | 'set-empty'
    | 'size-implausible'
    | 'camera-at-origin'
    | 'camera-unnamed'
    | 'delivery-unset'
    | 'lens-exceeded'
    | 'key-impossible'
    | 'sun-impossible'
    | 'ev-not-reached'
    | 'subject-gone'
    | 'camera-inside'
    | 'camera-underground'
    | 'focus-on-nothing'
    | 'subject-out-of-frame'
    | 'exposure-off'
    | 'clipped'
    | 'view-covered'
    | 'shot-without-camera'
    | 'sequence-empty'
    | 'gap'
    | 'camera-disabled'
    | 'take-lost'
    | 'still-shot'
    | 'past-move'
    | 'frames-missing'
    | 'same-frames'
    | 'same-name'
    | 'transitions-overlap'
    | 'handles-short'
    | 'move-outside-shots';
  readonly topic: FindingTopic;
  readonly message: string;
  readonly mend: string;
  readonly cameraId?: string;
  readonly shotId?: string;
  /** The sequence it is about where that is no shot's. */
  readonly sequenceId?: string;
  /** Scene time at which it is seen worst, flicks. */
  readonly atFlicks?: number;
  readonly placementId?: string;
  /** The part of the camera, or of the step, that is to be mended. */
  readonly part?: CameraPart | 'name' | 'daylight' | 'piece';
  /** The mend itself, when one click can make it. */
  readonly fix?: (project: Project) => Edit;
}
