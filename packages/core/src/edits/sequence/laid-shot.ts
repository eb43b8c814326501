import type { Shot } from '../../model';

/** A shot of a sequence as an edit leaves it. */
export interface LaidShot {
  readonly shot: Shot;
  /** When its first frame is in the scene, flicks. Without one it goes on with the action of the shot before it. */
  readonly sceneStartFlicks: number | undefined;
  /** How much was taken from its beginning, flicks of the cut; below 0 where it begins earlier in its action. */
  readonly headFlicks?: number;
}
