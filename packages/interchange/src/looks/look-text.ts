import type { GroupLevel, LookSettings } from '@arvex/core';
import { FORM, groupLevelSchema, LOOK_SHAPE, lookSettingsSchema } from '@arvex/core';
import * as z from 'zod';
import { InterchangeError } from '../error';

const name = z.string().trim().min(1).max(120);

/** What of looks can be written down, to be taken to other cameras and projects. A file that a look goes through stays where it is. */
const writtenSchema = z.discriminatedUnion('arvex', [
  z.object({ arvex: z.literal('look'), name, settings: lookSettingsSchema }),
  z.object({ arvex: z.literal('look values'), values: z.object(LOOK_SHAPE).partial() }),
  z.object({ arvex: z.literal('light mix'), groups: z.array(z.object({ name, level: groupLevelSchema })).max(500) }),
]);

export type WrittenLook = z.infer<typeof writtenSchema>;

/** A look under its name, as readable text (JSON). */
export function lookText(lookName: string, settings: LookSettings): string {
  return written({ arvex: 'look', name: lookName, settings: { ...settings, lut: null } });
}

/** Some values of a look. */
export function valuesText(values: Partial<LookSettings>): string {
  return written({ arvex: 'look values', values });
}

/** A light mix: levels by the names of their groups, as other projects know them. */
export function mixText(groups: readonly { readonly name: string; readonly level: GroupLevel }[]): string {
  return written({ arvex: 'light mix', groups: [...groups] });
}

function written(what: WrittenLook): string {
  const { arvex, ...rest } = what;
  return `${JSON.stringify({ arvex, form: FORM, ...rest }, null, 2)}\n`;
}

/**
 * Reads what {@link lookText}, {@link valuesText} or {@link mixText} wrote.
 * @throws InterchangeError naming the line: no such text, one of a newer Arvex, a value that cannot be.
 */
export function readLookText(text: string): WrittenLook {
  const json = parsed(text);
  const form = (json as { form?: unknown }).form;
  if (typeof form === 'number' && form > FORM)
    throw wrong(
      text,
      ['form'],
      `it was written by a newer Arvex (form ${form}). Reload the page, or write it again there`,
    );
  const found = writtenSchema.safeParse(json);
  if (found.success) return found.data;
  const [issue] = found.error.issues;
  const path = issue?.path ?? [];
  if (path.length === 0 || path[0] === 'arvex')
    throw new InterchangeError('Line 1: this is no look, no values and no light mix of Arvex. Copy one first.', '1');
  throw wrong(text, path, `${path.map(String).join('.')}: ${issue?.message ?? 'that cannot be'}`);
}

function parsed(text: string): unknown {
  try {
    const json: unknown = JSON.parse(text);
    if (typeof json === 'object' && json !== null) return json;
  } catch (error) {
    const at = Number(/position (\d+)/.exec((error as Error).message)?.[1] ?? NaN);
    if (text.trim().startsWith('{') && Number.isFinite(at)) {
      const line = lineAt(text, at);
      throw new InterchangeError(`Line ${line}: the text is broken there.`, String(line), { cause: error });
    }
  }
  throw new InterchangeError('Line 1: this is no look, no values and no light mix of Arvex. Copy one first.', '1');
}

const lineAt = (text: string, at: number) => text.slice(0, at).split('\n').length;

/** The line on which the last key of a path stands: keys are looked for one after another. */
function wrong(text: string, path: readonly PropertyKey[], message: string): InterchangeError {
  let at = 0;
  for (const key of path) {
    const next = typeof key === 'string' ? text.indexOf(`"${key}"`, at) : -1;
    if (next >= 0) at = next;
  }
  const line = lineAt(text, at);
  return new InterchangeError(`Line ${line}: ${message}.`, String(line));
}
