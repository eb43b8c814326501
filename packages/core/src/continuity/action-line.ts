import type { ActionLine, Project } from '../model';
import { subjectPointAt } from '../set';
import type { Vector } from '../space';
import type { JointSide } from './seen-at-joint';

/**
 * The line of action at a joint: set by hand for the shot, or for its sequence; else between the subjects of the two shots. Nothing where
 * both are about the same one.
 */
export function actionLineAt(project: Project, before: JointSide, after: JointSide): ActionLine | undefined {
  const { shot } = after.placed;
  const byHand = shot.actionLine ?? project.sequences[shot.sequenceId]?.actionLine;
  if (byHand) return byHand;
  const [one, other] = [before.subject?.placement, after.subject?.placement];
  if (!one || !other || one.id === other.id) return undefined;
  const ground = (place: Vector) => [place[0], place[2]] as const;
  return {
    fromM: ground(subjectPointAt(project, one, 'eyes', after.sceneFlicks)),
    toM: ground(subjectPointAt(project, other, 'eyes', after.sceneFlicks)),
  };
}

/**
 * On which side of a line a place is, and how far round from it seen from the line's middle: degrees from −90 to 90, 0 on the line
 * itself; positive on its right, looking along it.
 */
export function degreesOffLine({ fromM, toM }: ActionLine, [x, , z]: Vector): number {
  const [ax, az] = [toM[0] - fromM[0], toM[1] - fromM[1]];
  const [bx, bz] = [x - (fromM[0] + toM[0]) / 2, z - (fromM[1] + toM[1]) / 2];
  const across = ax * bz - az * bx;
  const along = ax * bx + az * bz;
  return (Math.atan2(across, Math.abs(along)) * 180) / Math.PI;
}
