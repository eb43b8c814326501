import type { EntityOf, TableKind } from './kinds';
import { KINDS, referencesOf, TABLE_KINDS } from './kinds';
import type { Project } from './project';
import { tableOf } from './project';

/** An entity that another one owns. */
interface Owned<K extends TableKind = TableKind> {
  readonly kind: K;
  readonly entity: EntityOf[K];
}

/** The field of a kind that holds the id of its owner, with which an entity is copied and goes; nothing for what stands by itself. */
function ownerField(kind: TableKind): string | undefined {
  const of = KINDS[kind];
  return 'owner' in of ? of.owner : undefined;
}

/**
 * All that an entity owns, and what that owns in turn: owners before what they own, of one kind in the order of their ids.
 * A sequence owns its shots, markers and sounds, a camera its move, a set what is put in it.
 */
export function ownedBy(project: Project, kind: TableKind, id: string): Owned[] {
  const owned = TABLE_KINDS.flatMap((other): Owned[] => {
    const field = ownerField(other);
    if (field === undefined || !referencesOf(other).some(([own, to]) => own === field && to === kind)) return [];
    const all = Object.values(tableOf(project, other)) as (EntityOf[TableKind] & Readonly<Record<string, unknown>>)[];
    const own = all.filter((entity) => entity[field] === id).sort((a, b) => (a.id < b.id ? -1 : 1));
    return own.map((entity) => ({ kind: other, entity }));
  });
  return [...owned, ...owned.flatMap((one) => ownedBy(project, one.kind, one.entity.id))];
}
