import { dequal } from 'dequal/lite';
import type { EntityKind, EntityOf, Operation, WrittenPart, PatchOperation, Project } from '../model';
import { existing, fieldSchema, hasEntries, partsBetween, withOperations } from '../model';

/** What an artist did, by name, as operations on entities. It becomes a change once it is given an id. */
export interface Edit {
  readonly name: string;
  readonly operations: readonly Operation[];
}

/** An operation that makes an entity. */
export function creation<K extends EntityKind>(
  kind: K,
  { id, ...own }: Omit<EntityOf[K], 'revision'> & { id: string },
): Operation {
  return { op: 'create', kind, id, fields: own };
}

/**
 * An operation that replaces some fields of an entity. It holds only what differs: of fields that are records the entries that
 * do, of long curves the keys that do; so it stays small, and stands against others only where both touch the same.
 * @throws CoreError `unknown-entity`.
 */
export function patching<K extends EntityKind>(
  project: Project,
  kind: K,
  id: string,
  own: Partial<Omit<EntityOf[K], 'id' | 'revision'>>,
): PatchOperation {
  const entity = existing(project, kind, id);
  const was = entity as unknown as Readonly<Record<string, unknown>>;
  const fields: Record<string, unknown> = {};
  const parts: WrittenPart[] = [];
  for (const [field, value] of Object.entries(own as Readonly<Record<string, unknown>>)) {
    const schema = fieldSchema(kind, field);
    if (was[field] === value) continue;
    if (schema && hasEntries(schema)) parts.push(...partsBetween(field, was[field] as object, value as object));
    else if (!dequal(was[field], value)) fields[field] = value;
  }
  const patch: PatchOperation = { op: 'patch', kind, id, baseRevision: entity.revision, fields };
  return parts.length > 0 ? { ...patch, parts } : patch;
}

/** An operation that deletes an entity. @throws CoreError `unknown-entity`. */
export function deletion(project: Project, kind: EntityKind, id: string): Operation {
  return { op: 'delete', kind, id, baseRevision: existing(project, kind, id).revision };
}

/** The project as an edit would leave it, to be looked at before it is made. @throws CoreError as applying it would. */
export function previewed(project: Project, edit: Pick<Edit, 'operations'>): Project {
  return edit.operations.length === 0 ? project : withOperations(project, edit.operations);
}

/**
 * Several edits as one: each is made on what the ones before it leave, and all of them are one step of undo.
 * @throws CoreError as making them one by one would.
 */
export function composed(project: Project, name: string, edits: readonly ((project: Project) => Edit)[]): Edit {
  const operations: Operation[] = [];
  let current = project;
  for (const edit of edits) {
    const next = edit(current);
    operations.push(...next.operations);
    current = previewed(current, next);
  }
  return { name, operations };
}
