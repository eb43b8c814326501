import { InterchangeError } from '../error';

/** Facts of an OBJ that its reader does not tell. */
export interface ObjFacts {
  /** Names of the material files it asks for. */
  readonly libraries: readonly string[];
}

const TOLD_EVERY_LINES = 50_000;

/**
 * Goes through an OBJ line by line before it is read: numbers that are none and faces that ask for corners that are not
 * there would only show as holes.
 * @throws InterchangeError naming the line.
 */
export function checkObj(text: string, progress: (share: number) => void): ObjFacts {
  const libraries: string[] = [];
  let [corners, faces, number] = [0, 0, 0];
  for (let start = 0; start < text.length;) {
    const newline = text.indexOf('\n', start);
    const end = newline === -1 ? text.length : newline;
    number += 1;
    if (number % TOLD_EVERY_LINES === 0) progress(start / text.length);
    const line = text.slice(start, end).trim();
    start = end + 1;
    if (line.startsWith('v ')) {
      corners += 1;
      const place = line.slice(2).trim().split(/\s+/).slice(0, 3);
      if (place.length < 3 || !place.every((part) => Number.isFinite(Number(part)))) {
        throw new InterchangeError(`Line ${number}: "${shortened(line)}" is not a corner with three numbers.`);
      }
    } else if (line.startsWith('f ')) {
      faces += 1;
      checkFace(line, number, corners);
    } else if (line.startsWith('mtllib ')) libraries.push(line.slice(7).trim());
  }
  if (faces === 0) throw new InterchangeError('The file holds no faces, so there is nothing to place.');
  return { libraries };
}

function checkFace(line: string, number: number, corners: number): void {
  const parts = line.slice(2).trim().split(/\s+/);
  if (parts.length < 3)
    throw new InterchangeError(`Line ${number}: "${shortened(line)}" is a face with fewer than three corners.`);
  for (const part of parts) {
    const index = parseInt(part, 10);
    // Counted from 1, or backward from the corners so far.
    const there = index > 0 ? index <= corners : index < 0 && -index <= corners;
    if (!there) {
      throw new InterchangeError(
        `Line ${number}: a face asks for corner ${part.split('/')[0]} of ${corners}. Export the file again.`,
      );
    }
  }
}

function shortened(line: string): string {
  return line.length > 60 ? `${line.slice(0, 60)} …` : line;
}
