import * as z from 'zod';
import { CoreError } from '../error';
import type { Entity, EntityKind } from './kinds';
import { ENTITY_KINDS, entityKindSchema } from './kinds';
import type { Project } from './project';
import { entityIn, withEntity } from './project';

const revision = z.string().min(1).max(64);

const fields = z.record(z.string(), z.json());

/** One step of a change. `baseRevision` is the revision it was made from. */
export const operationSchema = z.discriminatedUnion('op', [
  z.object({ op: z.literal('create'), kind: entityKindSchema, id: z.uuid(), fields }),
  z.object({ op: z.literal('patch'), kind: entityKindSchema, id: z.uuid(), baseRevision: revision, fields }),
  z.object({ op: z.literal('delete'), kind: entityKindSchema, id: z.uuid(), baseRevision: revision }),
]);

export type Operation = z.infer<typeof operationSchema>;

/** A named, atomic list of operations. Its id is made where it was made, so that it is applied once however often it is sent. */
export const changeSchema = z.object({
  id: z.uuid(),
  name: z.string().min(1).max(200),
  operations: z.array(operationSchema).min(1).max(5000),
});

export type Change = z.infer<typeof changeSchema>;

/** A change that the server has applied, with its place in the project's history. */
export const appliedChangeSchema = z.object({ seq: z.number().int().positive(), change: changeSchema });

export type AppliedChange = z.infer<typeof appliedChangeSchema>;

/**
 * What an entity becomes by an operation of change `changeId`; `undefined` when it is deleted.
 * @throws CoreError `unknown-entity`, `entity-exists`, `stale-revision`, or `invalid-entity` naming the field.
 */
export function applyOperation(entity: Entity | undefined, operation: Operation, changeId: string): Entity | undefined {
  const { kind, id } = operation;
  if (operation.op === 'create') {
    if (entity) throw new CoreError('entity-exists', `There already is a ${kind} ${id}.`);
    return validated(kind, { ...operation.fields, id, revision: changeId });
  }
  if (!entity) throw new CoreError('unknown-entity', `There is no ${kind} ${id}; it may have been deleted meanwhile.`);
  if (entity.revision !== operation.baseRevision && entity.revision !== changeId) {
    throw new CoreError('stale-revision', `The ${kind} "${nameOf(entity)}" was changed meanwhile.`);
  }
  if (operation.op === 'delete') return undefined;
  return validated(kind, { ...entity, ...operation.fields, id, revision: changeId });
}

function nameOf(entity: Entity): string {
  return 'name' in entity ? entity.name : entity.id;
}

function validated(kind: EntityKind, candidate: unknown): Entity {
  const result = ENTITY_KINDS[kind].schema.safeParse(candidate);
  if (result.success) return result.data;
  const issue = result.error.issues[0];
  const path = [kind, ...(issue?.path ?? [])].join('.');
  throw new CoreError('invalid-entity', `${path}: ${issue?.message ?? 'invalid'}`, path);
}

/**
 * The project after a change. All operations apply or none does.
 * @throws CoreError as {@link applyOperation}.
 */
export function applyChange(project: Project, change: Change): Project {
  return change.operations.reduce((current, operation) => {
    const entity = applyOperation(entityIn(current, operation.kind, operation.id), operation, change.id);
    return withEntity(current, operation.kind, operation.id, entity);
  }, project);
}

/** Operations that take back `change`, made from the project as it was before it. */
export function inverseOperations(before: Project, change: Change): Operation[] {
  let current = before;
  const inverse: Operation[] = [];
  for (const operation of change.operations) {
    const { kind, id } = operation;
    const entity = entityIn(current, kind, id);
    if (operation.op === 'create') inverse.push({ op: 'delete', kind, id, baseRevision: change.id });
    else if (operation.op === 'delete') inverse.push({ op: 'create', kind, id, fields: ownFields(entity) });
    else {
      const all = ownFields(entity);
      const kept = Object.fromEntries(Object.keys(operation.fields).map((key) => [key, all[key] ?? null]));
      inverse.push({ op: 'patch', kind, id, baseRevision: change.id, fields: kept });
    }
    current = withEntity(current, kind, id, applyOperation(entity, operation, change.id));
  }
  return inverse.reverse();
}

function ownFields(entity: Entity | undefined): Record<string, z.core.util.JSONType> {
  const { id: _id, revision: _revision, ...own } = entity ?? { id: '', revision: '' };
  return own;
}

/** The same operations made from the entities' present revisions. */
export function rebased(project: Project, operations: readonly Operation[]): Operation[] {
  return operations.map((operation) =>
    operation.op === 'create'
      ? operation
      : {
          ...operation,
          baseRevision: entityIn(project, operation.kind, operation.id)?.revision ?? operation.baseRevision,
        },
  );
}
