import { CoreError } from '../../error';
import type { Project, Shot } from '../../model';
import { shotsInOrder } from '../../model';
import type { Edit } from '../edit';
import { patching } from '../edit';

/** Gap between the names of neighbouring shots, so that others can be put between. */
const NAME_STEP = 10;
const NUMBERED = /^(.*?)(\d+)$/;
const MOST_DIGITS = 8;

/** The next free name after the last shot's: `SL_030` after `SL_020`. */
export function nextShotName(shots: readonly Shot[]): string {
  const numbered = shots.map((shot) => NUMBERED.exec(shot.name)).filter((match) => match !== null);
  const last = numbered.at(-1);
  const highest = Math.max(0, ...numbered.map((match) => Number(match[2])));
  const digits = last?.[2]?.length ?? 3;
  const next = Math.floor(highest / NAME_STEP) * NAME_STEP + NAME_STEP;
  return `${last?.[1] ?? 'SH_'}${String(next).padStart(digits, '0')}`;
}

/** A free name for a shot right after another: a number between its own and the next one's where there is one, else with a letter. */
export function nameAfter(name: string, taken: ReadonlySet<string>): string {
  const match = NUMBERED.exec(name);
  if (match) {
    const [, stem = '', number = ''] = match;
    const called = (by: number) => `${stem}${String(Number(number) + by).padStart(number.length, '0')}`;
    for (const by of [5, 3, 7, 2, 4, 6, 8, 1, 9]) if (!taken.has(called(by))) return called(by);
  }
  for (let n = 0; ; n++) {
    const letters = n < 26 ? String.fromCharCode(97 + n) : String(n);
    if (!taken.has(`${name}${letters}`)) return `${name}${letters}`;
  }
}

/** How shots are numbered: a text with one run of `#` where the number goes, as many digits at least. */
export interface Numbering {
  readonly pattern: string;
  readonly first: number;
  readonly step: number;
}

/**
 * Names all shots of a sequence anew in their order: `SL_###` from 10 by 10 gives SL_010, SL_020, …
 * @throws CoreError `invalid-entity` where the pattern has no `#`, or more than one run of them.
 */
export function renumberShots(project: Project, sequenceId: string, { pattern, first, step }: Numbering): Edit {
  const runs = pattern.match(/#+/g) ?? [];
  const [run] = runs;
  if (!run || runs.length > 1 || run.length > MOST_DIGITS) {
    const message = `"${pattern}" needs one place for the number, for instance SL_###.`;
    throw new CoreError('invalid-entity', message, 'pattern');
  }
  const operations = shotsInOrder(project, sequenceId).map((shot, i) => {
    const number = String(first + i * step).padStart(run.length, '0');
    return patching(project, 'shot', shot.id, { name: pattern.replace(run, number) });
  });
  return { name: `Number the shots ${pattern}`, operations };
}
