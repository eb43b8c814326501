import type { Project } from '../model';
import { pictureAt } from '../sequence';

/** Digits of a frame number in a file's name. */
const FRAME_DIGITS = 4;

/** Anything a file system could stumble over. */
const UNSAFE = /[^\p{L}\p{N}._-]+/gu;

/** A name as a part of a file's name: no separators, no spaces, never empty. */
export function fileNamePart(name: string): string {
  return (
    name
      .trim()
      .replace(UNSAFE, '-')
      .replace(/^[.-]+|[.-]+$/g, '') || 'unnamed'
  );
}

/** File name of a frame of the cut (counted from 0), without ending: `SL_020.1127`; `gap.1127` where nothing is seen. */
export function frameName(project: Project, sequenceId: string, index: number): string {
  const number = String(project.head.firstFrame + index).padStart(FRAME_DIGITS, '0');
  const picture = pictureAt(project, sequenceId, index);
  return `${picture ? fileNamePart(picture.shot?.name ?? 'gap') : 'outside'}.${number}`;
}
