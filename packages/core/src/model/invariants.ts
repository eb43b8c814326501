import { CoreError } from '../error';
import type { Operation } from './change';
import { shotsInOrder } from './in-order';
import type { Entity, EntityKind, TableKind, KINDS } from './kinds';
import { referencesOf, TABLE_KINDS } from './kinds';
import type { Project } from './project';
import { entityIn, tableOf } from './project';

type Touched = Pick<Operation, 'kind' | 'id'>;

/**
 * What holds in every project, looked at where a change touched it: what is referred to is there, nothing carries itself, no
 * sequence lies inside itself, a camera has one move, no two shots of a sequence stand at one place of its order.
 * @throws CoreError `broken-rule` that says what would not hold.
 */
export function mustHold(project: Project, touched: readonly Touched[]): void {
  const gone = new Map<EntityKind, Set<string>>();
  for (const { kind, id } of touched) {
    const entity = entityIn(project, kind, id);
    if (!entity) {
      gone.set(kind, (gone.get(kind) ?? new Set()).add(id));
      continue;
    }
    mustReferInside(project, kind, entity);
    if (kind === 'placement') mustNotCarryItself(project, id);
    if (kind === 'shot') mustNotHoldItself(project, id);
    if (kind === 'camera' || kind === 'project') mustWearWhatIsThere(project, id);
  }
  mustNotBeReferredTo(project, gone);
  if (gone.has('look'))
    for (const id of [project.head.id, ...Object.keys(project.cameras)]) mustWearWhatIsThere(project, id);
  mustBeAlone(project, touched, 'move', ({ cameraId }) => cameraId, 'A camera has one move.');
  const place = ({ sequenceId, order }: Project['shots'][string]) => `${sequenceId} ${order}`;
  mustBeAlone(project, touched, 'shot', place, 'Two shots cannot stand at the same place of a sequence.');
}

/** What an entity refers to is in the same project. */
function mustReferInside(project: Project, kind: EntityKind, entity: Entity): void {
  for (const [field, to] of referencesOf(kind)) {
    const id = entity[field as keyof Entity] as string | null;
    if (id === null || entityIn(project, to, id)) continue;
    throw new CoreError(
      'broken-rule',
      `${kind}.${field}: there is no ${to} ${id} in this project.`,
      `${kind}.${field}`,
    );
  }
}

/** The looks of a camera's variations, and the project's, are in the project. */
function mustWearWhatIsThere({ head, cameras, looks }: Project, id: string): void {
  const camera = cameras[id];
  const worn = camera
    ? Object.values(camera.variations).map(({ lookId }) => lookId)
    : id === head.id
      ? [head.lookId]
      : [];
  const missing = worn.find((lookId) => lookId !== null && !Object.hasOwn(looks, lookId));
  if (missing === undefined || missing === null) return;
  const who = camera ? `camera "${camera.name}"` : 'the project';
  throw new CoreError(
    'entity-in-use',
    `${who} wears a look that is not there (${missing}). Choose another one first.`,
    'lookId',
  );
}

/** Following what carries a placement comes to an end. */
function mustNotCarryItself(project: Project, placementId: string): void {
  const passed = new Set<string>();
  for (let id: string | null = placementId; id !== null; id = project.placements[id]?.parentId ?? null) {
    if (passed.has(id)) {
      const name = project.placements[placementId]?.name ?? placementId;
      throw new CoreError(
        'broken-rule',
        `"${name}" would carry itself. Take it off what carries it first.`,
        'parentId',
      );
    }
    passed.add(id);
  }
}

/** A sequence that a shot shows does not, however deep, show the sequence that the shot is in. */
function mustNotHoldItself(project: Project, shotId: string): void {
  const shot = project.shots[shotId];
  if (!shot?.insideId) return;
  const open = [shot.insideId];
  const passed = new Set<string>();
  for (let id = open.pop(); id !== undefined; id = open.pop()) {
    if (id === shot.sequenceId) {
      const [inside, own] = [project.sequences[shot.insideId], project.sequences[shot.sequenceId]];
      const names = `"${inside?.name ?? ''}" holds "${own?.name ?? ''}"`;
      throw new CoreError(
        'broken-rule',
        `${names}: a sequence cannot be inside itself. Choose another one.`,
        'insideId',
      );
    }
    if (passed.has(id)) continue;
    passed.add(id);
    for (const one of shotsInOrder(project, id)) if (one.insideId) open.push(one.insideId);
  }
}

/** Nothing that is left refers to what has gone. */
function mustNotBeReferredTo(project: Project, gone: ReadonlyMap<EntityKind, ReadonlySet<string>>): void {
  if (gone.size === 0) return;
  for (const kind of TABLE_KINDS) {
    for (const [field, to] of referencesOf(kind)) {
      const ids = gone.get(to);
      if (!ids) continue;
      for (const entity of Object.values<Entity>(tableOf(project, kind))) {
        const id = entity[field as keyof Entity] as string | null;
        if (id === null || !ids.has(id)) continue;
        const name = 'name' in entity ? `"${entity.name}"` : entity.id;
        throw new CoreError('entity-in-use', `${kind} ${name} still refers to this ${to}.`, `${kind}.${field}`);
      }
    }
  }
}

/** No other entity of the kind says the same of itself. */
function mustBeAlone<K extends TableKind>(
  project: Project,
  touched: readonly Touched[],
  kind: K,
  said: (entity: Project[(typeof KINDS)[K]['table']][string]) => string,
  message: string,
): void {
  if (!touched.some((one) => one.kind === kind)) return;
  const seen = new Set<string>();
  for (const entity of Object.values(tableOf(project, kind)) as Project[(typeof KINDS)[K]['table']][string][]) {
    const what = said(entity);
    if (seen.has(what)) throw new CoreError('broken-rule', message, kind);
    seen.add(what);
  }
}
