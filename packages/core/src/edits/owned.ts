import type { Operation, Project, TableKind } from '../model';
import { ownedBy, referencesOf } from '../model';
import { creation, deletion } from './edit';

/**
 * Makes all that an entity owns anew, for a copy of it that has another id: what refers to something that is copied too refers to the
 * copy. @param ids makes an id for each copy.
 */
export function copiesOfOwned(
  project: Project,
  kind: TableKind,
  id: string,
  newId: string,
  ids: () => string,
): Operation[] {
  const owned = ownedBy(project, kind, id);
  const copied = new Map([[id, newId], ...owned.map(({ entity }) => [entity.id, ids()] as const)]);
  return owned.map((one) => {
    const { revision: _revision, ...fields } = one.entity;
    const own: Record<string, unknown> = { ...fields, id: copied.get(one.entity.id) };
    for (const [field] of referencesOf(one.kind)) own[field] = copied.get(own[field] as string) ?? own[field];
    return creation(one.kind, own as never);
  });
}

/** Takes out all that an entity owns, before it goes itself. */
export function deletionsOfOwned(project: Project, kind: TableKind, id: string): Operation[] {
  return ownedBy(project, kind, id)
    .reverse()
    .map((one) => deletion(project, one.kind, one.entity.id));
}
