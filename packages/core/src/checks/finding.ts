import type { Edit } from '../edits';
import type { CameraPart, Project } from '../model';

/** Steps of the work, in their order. */
export const STEPS = ['set', 'cameras', 'moves', 'sequence', 'review'] as const;

export type Step = (typeof STEPS)[number];

/** Something that would spoil the output, with the place where it is mended. */
export interface Finding {
  readonly code:
    | 'set-empty'
    | 'size-implausible'
    | 'camera-at-origin'
    | 'camera-unnamed'
    | 'delivery-unset'
    | 'lens-exceeded'
    | 'focus-on-nothing'
    | 'subject-out-of-frame'
    | 'exposure-off'
    | 'clipped'
    | 'shot-without-camera'
    | 'sequence-empty'
    | 'move-outside-shots';
  readonly step: Step;
  readonly message: string;
  readonly mend: string;
  readonly cameraId?: string;
  readonly shotId?: string;
  readonly placementId?: string;
  /** The card of the bench on which it is mended. */
  readonly card?: CameraPart;
  /** The mend itself, when one click can make it. */
  readonly fix?: (project: Project) => Edit;
}
