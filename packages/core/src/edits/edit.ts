import type { z } from 'zod';
import type { EntityKind, EntityOf, Operation, Project } from '../model';
import { existing } from '../model';

/** What an artist did, by name, as operations on entities. It becomes a change once it is given an id. */
export interface Edit {
  readonly name: string;
  readonly operations: readonly Operation[];
}

type Fields = Record<string, z.core.util.JSONType>;

/** An operation that makes an entity. */
export function creation<K extends EntityKind>(
  kind: K,
  { id, ...own }: Omit<EntityOf[K], 'revision'> & { id: string },
): Operation {
  return { op: 'create', kind, id, fields: own as unknown as Fields };
}

/** An operation that replaces some fields of an entity. */
export function patching<K extends EntityKind>(
  project: Project,
  kind: K,
  id: string,
  own: Partial<Omit<EntityOf[K], 'id' | 'revision'>>,
): Operation {
  return {
    op: 'patch',
    kind,
    id,
    baseRevision: existing(project, kind, id).revision,
    fields: own as unknown as Fields,
  };
}

/** An operation that deletes an entity. */
export function deletion(project: Project, kind: EntityKind, id: string): Operation {
  return { op: 'delete', kind, id, baseRevision: existing(project, kind, id).revision };
}
