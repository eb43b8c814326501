import { HEAD_DEFAULTS } from './head';
import type { Project } from './project';
import { SET_DEFAULTS } from './set';

/** Revision of entities that no change has written yet. */
export const FIRST_REVISION = 'first';

/** A project with an empty set and an empty sequence. Ids come from outside: the core has no randomness. */
export function newProject(ids: { project: string; set: string; sequence: string }, name: string): Project {
  const revision = FIRST_REVISION;
  return {
    seq: 0,
    head: { id: ids.project, revision, name, ...HEAD_DEFAULTS },
    sets: { [ids.set]: { id: ids.set, revision, ...SET_DEFAULTS } },
    lightGroups: {},
    assets: {},
    placements: {},
    lensKits: {},
    cameras: {},
    moves: {},
    sequences: { [ids.sequence]: { id: ids.sequence, revision, name: 'Sequence' } },
    shots: {},
  };
}
