import type { Entity, Operation, Project } from '@arvex/core';
import { secondsFromFlicks } from '@arvex/core';

/** One thing that two versions say differently, in words and numbers. */
export interface Difference {
  readonly field: string;
  readonly mine: string;
  readonly theirs: string;
}

/** Units by the ends of field names, longest first. */
const UNITS: readonly (readonly [ending: string, unit: string])[] = [
  ['Percent', '%'],
  ['Stops', 'stops'],
  ['Deg', '°'],
  ['Lx', 'lx'],
  ['Mm', 'mm'],
  ['Px', 'px'],
  ['M', 'm'],
  ['S', 's'],
];

const MOST_ROWS = 12;

/** What a change would make of an entity that somebody else changed too: each number and word that differs, by its own name. */
export function differencesOf(
  operation: Extract<Operation, { op: 'patch' }>,
  theirs: Entity | undefined,
  project: Project | undefined,
): Difference[] {
  const other = (theirs ?? {}) as unknown as Readonly<Record<string, unknown>>;
  const fields = Object.entries(operation.fields).flatMap(([field, mine]) => leaves([field], mine, other[field]));
  const parts = (operation.parts ?? []).flatMap((part): Leaf[] => {
    const [field, name] = part.at;
    const entries = other[field];
    const whole = part.how === 'put' && isRecord(part.value) && isRecord(entries);
    return whole ? leaves(part.at, part.value, entries[name]) : [{ path: part.at, mine: CHANGED, theirs: CHANGED }];
  });
  const rows = [...fields, ...parts].map(({ path, mine, theirs: text }): Difference => {
    const last = path.at(-1) ?? '';
    return {
      field: path.map((step) => stepText(step, other, project)).join(', '),
      mine: textOf(last, mine, project),
      theirs: theirs ? textOf(last, text, project) : 'deleted',
    };
  });
  const more = rows.length - MOST_ROWS;
  return more > 0 ? [...rows.slice(0, MOST_ROWS), { field: `and ${more} more`, mine: '', theirs: '' }] : rows;
}

const CHANGED = Symbol('changed');

interface Leaf {
  readonly path: readonly string[];
  readonly mine: unknown;
  readonly theirs: unknown;
}

/** The single values within two records that are not alike. */
function leaves(path: readonly string[], mine: unknown, theirs: unknown): Leaf[] {
  if (isRecord(mine) && isRecord(theirs)) {
    const names = [...new Set([...Object.keys(mine), ...Object.keys(theirs)])];
    return names.flatMap((name) => leaves([...path, name], mine[name], theirs[name]));
  }
  return JSON.stringify(mine) === JSON.stringify(theirs) ? [] : [{ path, mine, theirs }];
}

const isRecord = (value: unknown): value is Readonly<Record<string, unknown>> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

function unitOf(field: string): readonly [name: string, unit: string] {
  const found = UNITS.find(([ending]) => field.endsWith(ending) && field.length > ending.length);
  return found ? [field.slice(0, -found[0].length), found[1]] : [field, ''];
}

/** `focal length` for `focalLengthMm`. */
function wordsOf(field: string): string {
  const [name] = unitOf(field.replace(/(Flicks|Id)$/, ''));
  return name.replace(/([a-z])([A-Z])/g, '$1 $2').toLowerCase();
}

function textOf(field: string, value: unknown, project: Project | undefined): string {
  if (value === CHANGED) return 'changed';
  if (value === null || value === undefined) return 'none';
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (typeof value === 'number') return numberText(field, value);
  if (typeof value === 'string') return field.endsWith('Id') ? nameOf(value, project) : value;
  if (Array.isArray(value)) {
    const numbers = value.length <= 4 && value.every((one) => typeof one === 'number');
    return numbers ? value.map((one: number) => numberText(field, one)).join(', ') : `${value.length} of them`;
  }
  return Object.entries(value)
    .slice(0, 4)
    .map(([name, one]) => `${wordsOf(name)} ${textOf(name, one, project)}`)
    .join(', ');
}

function numberText(field: string, value: number): string {
  if (field.endsWith('Flicks')) return `${secondsFromFlicks(value).toFixed(2)} s`;
  const [, unit] = unitOf(field);
  const number = String(Number(value.toFixed(2)));
  return unit === '' ? number : `${number} ${unit}`.replace(' °', '°');
}

function nameOf(id: string, project: Project | undefined): string {
  const tables = project && [project.placements, project.cameras, project.lightGroups, project.looks];
  return tables?.map((table) => table[id]?.name).find((name) => name !== undefined) ?? id;
}

const ID = /[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}/;

/** A step of a path in words: a name in the place of an id, of a variation of the entity or of something in the project. */
function stepText(step: string, entity: Readonly<Record<string, unknown>>, project: Project | undefined): string {
  if (!ID.test(step)) return wordsOf(step);
  const variations = isRecord(entity['variations']) ? entity['variations'] : {};
  return step.replace(ID, (id) => {
    const variation = variations[id];
    return isRecord(variation) ? String(variation['name']) : nameOf(id, project);
  });
}
