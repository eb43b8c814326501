import { CoreError } from '../error';
import type { Change } from './change';
import { changeSchema } from './change';
import { FORM } from './form';
import { telling } from './order';
import type { Project } from './project';
import { projectSchema } from './project';
import { SEQUENCE_DEFAULTS } from './sequence';
import { SHOT_DEFAULTS } from './shot';

/** Anything that was read from JSON. */
type Json = Record<string, unknown>;

/** How what was written in one form is written in the next one. */
interface Upgrade {
  readonly project: (project: Json) => Json;
  readonly change: (change: Json) => Json;
}

/** From form 1 to 2, from 2 to 3 …: never edited once they have run anywhere. */
const UPGRADES: readonly Upgrade[] = [
  { project: projectTo2, change: changeTo2 },
  { project: projectTo3, change: changeTo3 },
  { project: projectTo4, change: changeTo4 },
  { project: projectTo5, change: changeTo5 },
];

/**
 * A project as it was stored or sent in any form up to the present one, whole and checked. Without a form it is of the first.
 * @throws CoreError `newer-form` when a later Arvex wrote it; `invalid-entity` naming the place when it is not whole.
 */
export function projectFrom(stored: unknown): Project {
  const outcome = projectSchema.safeParse(upgraded(stored, 'project'));
  if (outcome.success) return outcome.data;
  const issue = outcome.error.issues[0];
  const path = issue?.path.map(String).join('.') ?? '';
  throw new CoreError('invalid-entity', `${path}: ${issue?.message ?? 'not a project'}`, path);
}

/**
 * A change as it was stored or sent in any form up to the present one.
 * @throws CoreError `newer-form`; `invalid-change` naming the place.
 */
export function changeFrom(stored: unknown): Change {
  const outcome = changeSchema.safeParse(upgraded(stored, 'change'));
  if (outcome.success) return outcome.data;
  const issue = outcome.error.issues[0];
  const path = issue?.path.map(String).join('.') ?? '';
  throw new CoreError('invalid-change', `${path}: ${issue?.message ?? 'not a change'}`, path);
}

/** JSON in the present form. @throws CoreError `newer-form`. */
function upgraded(stored: unknown, what: keyof Upgrade): unknown {
  if (typeof stored !== 'object' || stored === null) return stored;
  const form = (stored as Json)['form'] ?? 1;
  if (typeof form !== 'number' || !Number.isInteger(form) || form < 1 || form > FORM) {
    throw new CoreError(
      'newer-form',
      `This was written by a newer Arvex (form ${JSON.stringify(form)}). Reload the page.`,
      'form',
    );
  }
  try {
    return UPGRADES.slice(form - 1).reduce((json, upgrade) => upgrade[what](json), stored as Json);
  } catch (error) {
    // What is no project or change at all cannot be brought up: it says itself what is wrong with it.
    if (error instanceof TypeError) return { ...stored, form: FORM };
    throw error;
  }
}

/** Distances measured by automatic focus go beside the project; the order of shots is text; the speed curve is `timeWarp`. */
function projectTo2(project: Json): Json {
  const cameras = project['cameras'] as Record<string, Json>;
  const measured = Object.entries(cameras).flatMap(([id, camera]) => {
    const auto = (camera['focus'] as Json)['auto'] as { measured?: unknown[] };
    return auto.measured && auto.measured.length > 0 ? [[id, { for: '', curve: auto.measured }]] : [];
  });
  return {
    ...project,
    form: 2,
    measured: Object.fromEntries(measured) as Json,
    cameras: mapped(cameras, (camera) => ({ ...camera, focus: focusTo2(camera['focus']) })),
    moves: mapped(project['moves'] as Record<string, Json>, moveTo2),
    shots: shotsTo2(project['shots'] as Record<string, Json>),
  };
}

function changeTo2(change: Json): Json {
  const operations = change['operations'] as readonly Json[];
  return { ...change, form: 2, operations: operations.map(operationTo2) };
}

function operationTo2(operation: Json): Json {
  const fields = operation['fields'] as Json | undefined;
  if (!fields) return operation;
  if (operation['kind'] === 'camera' && 'focus' in fields) {
    return { ...operation, fields: { ...fields, focus: focusTo2(fields['focus']) } };
  }
  if (operation['kind'] === 'move') return { ...operation, fields: moveTo2(fields) };
  if (operation['kind'] === 'shot' && 'order' in fields) {
    // What stood there meanwhile keeps its place; this comes right after it.
    const order = `${String(orderTo2(fields['order']))}0${telling(String(operation['id']))}`;
    return { ...operation, fields: { ...fields, order } };
  }
  return operation;
}

function focusTo2(focus: unknown): unknown {
  const { auto, ...rest } = focus as { auto: Json };
  return { ...rest, auto: { x: auto['x'], y: auto['y'] } };
}

/** The channel at whose time all curves of a move are read has the trade's name. */
function moveTo2(move: Json): Json {
  const named = (record: unknown): Json =>
    Object.fromEntries(
      Object.entries(record as Json).map(([key, value]) => [key === 'moveTime' ? 'timeWarp' : key, value]),
    );
  const marks = move['marks'] as readonly Json[] | undefined;
  return {
    ...move,
    ...('curves' in move && { curves: named(move['curves']) }),
    ...('after' in move && { after: named(move['after']) }),
    ...(marks && { marks: marks.map((mark) => ({ ...mark, leftOut: mark['leftOut'] && named(mark['leftOut']) })) }),
  };
}

/** Whole numbers from here on have six digits. */
const ORDER_BEGIN = 500_000;
const ORDER_DECIMALS = 15;

/** A number as text that sorts as it does; the database's migration makes the same of it. */
function orderTo2(order: unknown): unknown {
  if (typeof order !== 'number') return order;
  const whole = Math.floor(order);
  const share = (order - whole).toFixed(ORDER_DECIMALS).slice(2).replace(/0+$/, '');
  return `f${String(whole + ORDER_BEGIN).padStart(6, '0')}${share}`;
}

/** Shots with their order as text; those that stood at one place come one after another. */
function shotsTo2(shots: Readonly<Record<string, Json>>): Json {
  const stood = new Map<string, number>();
  const byId = Object.entries(shots).sort(([a], [b]) => (a < b ? -1 : 1));
  return Object.fromEntries(
    byId.map(([id, shot]) => {
      const order = String(orderTo2(shot['order']));
      const place = `${String(shot['sequenceId'])} ${order}`;
      const same = (stood.get(place) ?? 0) + 1;
      stood.set(place, same);
      return [id, { ...shot, order: same > 1 ? `${order}0${String(same).padStart(6, '0')}1` : order }];
    }),
  );
}

/** Shots have takes, speeds and transitions, sequences handles and limits; there are markers and sound. */
function projectTo3(project: Json): Json {
  const filled = (table: string, defaults: object) =>
    mapped(project[table] as Record<string, Json>, (entity) => ({ ...defaults, ...entity }));
  return {
    ...project,
    form: 3,
    shots: filled('shots', SHOT_DEFAULTS),
    sequences: filled('sequences', SEQUENCE_DEFAULTS),
    markers: {},
    sounds: {},
  };
}

function changeTo3(change: Json): Json {
  const defaults: Readonly<Record<string, object>> = { shot: SHOT_DEFAULTS, sequence: SEQUENCE_DEFAULTS };
  const operations = (change['operations'] as readonly Json[]).map((operation) =>
    operation['op'] === 'create'
      ? { ...operation, fields: { ...defaults[String(operation['kind'])], ...(operation['fields'] as Json) } }
      : operation,
  );
  return { ...change, form: 3, operations };
}

/** There are looks; what cameras, shots and the project have of them has a default. */
function projectTo4(project: Json): Json {
  const shots = mapped(project['shots'] as Record<string, Json>, (shot) => ({
    ...shot,
    takes: takesTo4(shot['takes']),
  }));
  return { ...project, form: 4, shots, looks: {}, keptResponses: {} };
}

function changeTo4(change: Json): Json {
  const operations = (change['operations'] as readonly Json[]).map((operation) => {
    const fields = operation['fields'] as Json | undefined;
    if (operation['kind'] !== 'shot' || !fields || !('takes' in fields)) return operation;
    return { ...operation, fields: { ...fields, takes: takesTo4(fields['takes']) } };
  });
  return { ...change, form: 4, operations };
}

function takesTo4(takes: unknown): unknown {
  return (takes as readonly Json[]).map((take) => ({ variationId: null, ...take }));
}

/** A surface says of which kind it is. */
function projectTo5(project: Json): Json {
  const placements = mapped(project['placements'] as Record<string, Json>, surfaceTo5);
  return { ...project, form: 5, placements };
}

function changeTo5(change: Json): Json {
  const operations = (change['operations'] as readonly Json[]).map((operation) => {
    const fields = operation['fields'] as Json | undefined;
    if (operation['kind'] !== 'placement' || !fields || !('surface' in fields)) return operation;
    return { ...operation, fields: surfaceTo5(fields) };
  });
  return { ...change, form: 5, operations };
}

function surfaceTo5(fields: Json): Json {
  return { ...fields, surface: { kind: 'colour', ...(fields['surface'] as Json) } };
}

function mapped(table: Readonly<Record<string, Json>>, next: (entity: Json) => Json): Json {
  return Object.fromEntries(Object.entries(table).map(([id, entity]) => [id, next(entity)]));
}
