/** Answers that are kept in files beside the tests: see `figures.test.ts`. */
import { createHash } from 'node:crypto';
import { expect } from 'vitest';
import { CoreError } from '../src';

type Answers = readonly (readonly [string, () => unknown])[];

const LONG = 40;
/**
 * Numbers to seven digits, so that no rounding of a processor counts; maps and sets as lists; of a long list a dozen, and how long it is,
 * with a digest of all.
 */
function rounded(key: string, value: unknown): unknown {
  if (key === 'baseRevision' || key === 'revision') return undefined;
  if (typeof value === 'number') return Number.isFinite(value) ? Number(value.toPrecision(7)) + 0 : String(value);
  if (value instanceof Map || value instanceof Set) return [...value];
  if (Array.isArray(value) && value.length > LONG) {
    const step = Math.ceil(value.length / 12);
    return [`${value.length}, ${digest(value)}:`, ...(value as unknown[]).filter((_, i) => i % step === 0)];
  }
  return value;
}

function digest(list: readonly unknown[]): string {
  const hash = createHash('sha256');
  for (let i = 0; i < list.length; i += LONG) hash.update(JSON.stringify(list.slice(i, i + LONG), rounded));
  return hash.digest('hex').slice(0, 8);
}

/** What a question answers, or in which words it is refused. */
function answer(ask: () => unknown): unknown {
  try {
    return ask() ?? null;
  } catch (error) {
    if (error instanceof CoreError) return `refused: ${error.code} ${error.message}`;
    throw error;
  }
}

/** One line an answer, so that a difference is found at once. */
function written(answers: Answers): string {
  return `${answers.map(([name, ask]) => `${name}: ${JSON.stringify(answer(ask), rounded)}`).join('\n')}\n`;
}
/** Holds answers against those of a file. */
export const kept = (name: string, answers: Answers) =>
  expect(written(answers)).toMatchFileSnapshot(`figures/${name}.txt`);
