import type { Project } from '@arvex/core';

/** The part of a project that the stage stands up. */
export type StagedSet = Pick<Project, 'sets' | 'assets' | 'placements'>;

type TableName = keyof StagedSet;

/** What changed between two states of a set: only what is new or different travels to the stage. */
export type SetPatch = {
  readonly [K in TableName]: { readonly put: StagedSet[K]; readonly gone: readonly string[] };
};

export const NOTHING_STAGED: StagedSet = { sets: {}, assets: {}, placements: {} };

const TABLES: readonly TableName[] = ['sets', 'assets', 'placements'];

/** The patch from one state to another, found by identity: entities are immutable. */
export function setPatch(before: StagedSet, after: StagedSet): SetPatch {
  return Object.fromEntries(
    TABLES.map((table) => [table, tablePatch<unknown>(before[table], after[table])]),
  ) as unknown as SetPatch;
}

function tablePatch<T>(before: Readonly<Record<string, T>>, after: Readonly<Record<string, T>>) {
  if (before === after) return { put: {}, gone: [] };
  const put = Object.fromEntries(Object.entries(after).filter(([id, entity]) => before[id] !== entity));
  return { put, gone: Object.keys(before).filter((id) => !Object.hasOwn(after, id)) };
}

/** A set after a patch. */
export function patchedSet(set: StagedSet, patch: SetPatch): StagedSet {
  return Object.fromEntries(
    TABLES.map((table) => {
      const { put, gone } = patch[table];
      if (gone.length === 0 && Object.keys(put).length === 0) return [table, set[table]];
      const left = new Set(gone);
      const kept = Object.entries(set[table] as Record<string, unknown>).filter(([id]) => !left.has(id));
      return [table, { ...Object.fromEntries(kept), ...put }];
    }),
  ) as unknown as StagedSet;
}
