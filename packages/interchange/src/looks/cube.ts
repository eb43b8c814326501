import type { Lut } from '@arvex/core';
import { InterchangeError } from '../error';

/** Points along a side that are taken: more are a hundred times what a picture can tell apart. */
const SIZES = { min: 2, max: 65 } as const;
const LINES_A_STEP = 1000;
/** No line of a table is longer, characters. */
const LONGEST_LINE = 1000;
/** So many lines are taken beside those of the colours: comments and empty ones. */
const MOST_OTHER_LINES = 100_000;

/** A table of colours with the name that its file gives it. */
export interface NamedLut extends Lut {
  readonly title: string;
}

/** What a .cube file says before its colours. */
interface Header {
  title: string;
  size: number | undefined;
  from: [number, number, number];
  to: [number, number, number];
}

/**
 * Reads a 3D table of colours from the text of a .cube file: `LUT_3D_SIZE`, if it likes `TITLE`, `DOMAIN_MIN` and `DOMAIN_MAX`, then red,
 * green and blue of each point, red changing fastest.
 * @throws InterchangeError naming the line and the way out.
 */
export function readCube(text: string): NamedLut {
  const steps = readingCube(text);
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
}

/** The same in steps that take a moment each. */
export function* readingCube(text: string): Generator<void, NamedLut> {
  const header: Header = { title: '', size: undefined, from: [0, 0, 0], to: [1, 1, 1] };
  const numbers: number[] = [];
  let [i, others] = [-1, 0];
  for (const raw of linesOf(text)) {
    i += 1;
    if (i % LINES_A_STEP === 0) yield;
    if (raw.length > LONGEST_LINE)
      throw wrong(i, `it is longer than ${LONGEST_LINE} characters: this is no .cube file.`);
    const line = raw.trim();
    if (line === '' || line.startsWith('#')) {
      others += 1;
      if (others > MOST_OTHER_LINES) throw wrong(i, 'there are more comments and empty lines than any table has.');
      continue;
    }
    if (/^[A-Z_]/i.test(line) && !/^(nan|inf)/i.test(line)) {
      if (numbers.length > 0) throw wrong(i, `"${shortened(line)}" stands among the colours. Take it out.`);
      readKeyword(header, line, i);
      continue;
    }
    if (header.size === undefined)
      throw wrong(i, 'colours begin before LUT_3D_SIZE says how many there are. Is this a 3D .cube file?');
    numbers.push(...triple(line, i));
    if (numbers.length > header.size ** 3 * 3)
      throw wrong(i, `there are more colours than the ${header.size ** 3} of ${header.size} points a side.`);
  }
  const { title, size, from, to } = header;
  if (size === undefined) throw new InterchangeError('There is no LUT_3D_SIZE in it: this is not a 3D .cube file.');
  const wanted = size ** 3;
  if (numbers.length !== wanted * 3) {
    throw wrong(i, `the file ends after ${numbers.length / 3} of ${wanted} colours (${size} points a side).`);
  }
  for (const axis of [0, 1, 2] as const) {
    if (!(to[axis] > from[axis])) throw new InterchangeError('DOMAIN_MAX has to lie above DOMAIN_MIN.');
  }
  return { title, size, from, to, values: Float32Array.from(numbers) };
}

/** Lines one after another, so that a large file is not cut to pieces at once. Of one that is far too long its beginning. */
function* linesOf(text: string): Generator<string> {
  const ends = /\r\n|\n|\r/g;
  for (let at = 0; at <= text.length;) {
    ends.lastIndex = at;
    const found = ends.exec(text);
    const end = found?.index ?? text.length;
    yield text.slice(at, Math.min(end, at + LONGEST_LINE + 1));
    at = end + (found?.[0].length ?? 1);
  }
}

function readKeyword(header: Header, line: string, at: number): void {
  const [word = '', ...rest] = line.split(/\s+/);
  const said = line.slice(word.length).trim();
  switch (word.toUpperCase()) {
    case 'TITLE':
      header.title = said.replace(/^"(.*)"$/, '$1').slice(0, MOST_TITLE);
      return;
    case 'LUT_1D_SIZE':
      throw wrong(at, 'it is a table for each colour by itself (1D). Save it as a 3D .cube.');
    case 'LUT_3D_SIZE': {
      const size = Number(rest[0]);
      if (!Number.isInteger(size) || size < SIZES.min || size > SIZES.max || rest.length !== 1)
        throw wrong(at, `a side has ${SIZES.min} to ${SIZES.max} points, not "${shortened(said)}".`);
      header.size = size;
      return;
    }
    case 'DOMAIN_MIN':
      header.from = triple(said, at);
      return;
    case 'DOMAIN_MAX':
      header.to = triple(said, at);
      return;
    default:
      throw wrong(at, `"${shortened(word)}" is no word of a .cube file. Take the line out.`);
  }
}

function triple(text: string, at: number): [number, number, number] {
  const parts = text.split(/\s+/);
  const bad = parts.find((part) => !/^[-+]?(\d+\.?\d*|\.\d+)(e[-+]?\d+)?$/i.test(part));
  if (bad !== undefined) throw wrong(at, `"${shortened(bad)}" is no number.`);
  const [r, g, b] = parts.map(Number);
  if (parts.length !== 3 || r === undefined || g === undefined || b === undefined)
    throw wrong(at, `three numbers belong in a line, not ${parts.length}.`);
  return [r, g, b];
}

const MOST_TITLE = 120;
const shortened = (text: string) => (text.length > 40 ? `${text.slice(0, 40)}…` : text);
const wrong = (line: number, message: string) => new InterchangeError(`Line ${line + 1}: ${message}`, String(line + 1));

/** The text of a .cube file. @param comments lines that say what it is for. */
export function writeCube({ title, size, from, to, values }: NamedLut, comments: readonly string[] = []): string {
  const row = (at: number) => [0, 1, 2].map((part) => (values[at * 3 + part] ?? 0).toFixed(DIGITS)).join(' ');
  const isUnit = from.every((value) => value === 0) && to.every((value) => value === 1);
  return [
    ...comments.map((line) => `# ${line}`),
    `TITLE "${title.replace(/["\r\n]/g, ' ')}"`,
    `LUT_3D_SIZE ${size}`,
    ...(isUnit ? [] : [`DOMAIN_MIN ${from.join(' ')}`, `DOMAIN_MAX ${to.join(' ')}`]),
    ...Array.from({ length: size ** 3 }, (_, at) => row(at)),
    '',
  ].join('\n');
}

/** Digits after the point: a hundredth of a code value of 16 bits. */
const DIGITS = 7;
