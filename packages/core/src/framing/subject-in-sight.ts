import type { CameraState } from '../camera';
import type { Placement } from '../model';
import type { Pieces } from '../set';
import { subjectsIn } from '../set';
import type { SubjectFraming } from './subject-framing';
import { subjectFraming } from './subject-framing';

/** How far from the middle of the frame eyes are, in shares of the frame. */
const offMiddle = ({ eyes }: SubjectFraming): number => Math.hypot(eyes.x - 0.5, eyes.y - 0.5);

/**
 * Whom a camera is about: who is chosen for it; else, of those in its frame, who is followed by the focus, who is sharp, and who is
 * seen nearest the middle, in this order. Nobody outside the frame, unless he is chosen.
 */
export function chosenSubject(pieces: Pieces, state: CameraState, atFlicks: number): SubjectFraming | undefined {
  const chosen = state.framing.subjectId === null ? undefined : pieces.placements[state.framing.subjectId];
  return chosen ? subjectFraming(pieces, chosen, state, atFlicks) : seenSubjects(pieces, state, atFlicks)[0];
}

/** Subjects in the frame, whom the camera is about first. */
function seenSubjects(pieces: Pieces, state: CameraState, atFlicks: number): SubjectFraming[] {
  const { nearM, farM, subjectId } = state.focus;
  const rank = ({ placement, distanceM, hidden }: SubjectFraming) => {
    if (placement.id === subjectId) return 0;
    if (hidden !== undefined) return 3;
    return distanceM >= nearM && distanceM <= farM ? 1 : 2;
  };
  return subjectsIn(pieces)
    .flatMap((placement) => subjectFraming(pieces, placement, state, atFlicks) ?? [])
    .filter((framing) => framing.inFrame)
    .sort((a, b) => rank(a) - rank(b) || offMiddle(a) - offMiddle(b));
}

/**
 * The subject that is meant where nobody says another: whom the camera is about, else who stands nearest to its axis. `undefined`
 * when everybody is behind it.
 * @param exceptId somebody who is not meant; everybody may be where it is left out.
 */
export function subjectMeant(
  pieces: Pieces,
  state: CameraState,
  atFlicks: number,
  exceptId?: string,
): Placement | undefined {
  const isOther = ({ placement }: SubjectFraming) => placement.id !== exceptId;
  const chosen = chosenSubject(pieces, state, atFlicks);
  const about = [...(chosen ? [chosen] : []), ...seenSubjects(pieces, state, atFlicks)].find(isOther);
  if (about) return about.placement;
  const ahead = subjectsIn(pieces)
    .flatMap((placement) => subjectFraming(pieces, placement, state, atFlicks) ?? [])
    .filter(isOther);
  return ahead.sort((a, b) => offMiddle(a) - offMiddle(b))[0]?.placement;
}
