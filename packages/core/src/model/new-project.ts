import { FIRST_REVISION } from './fields';
import { FORM } from './form';
import { HEAD_DEFAULTS } from './head';
import type { Project } from './project';
import { emptyTables } from './project';
import { SEQUENCE_DEFAULTS } from './sequence';
import { SET_DEFAULTS } from './set';

/** A project with an empty set and an empty sequence. Ids come from outside: the core has no randomness. */
export function newProject(ids: { project: string; set: string; sequence: string }, name: string): Project {
  const revision = FIRST_REVISION;
  return {
    form: FORM,
    seq: 0,
    head: { id: ids.project, revision, name, ...HEAD_DEFAULTS },
    measured: {},
    ...emptyTables(),
    sets: { [ids.set]: { id: ids.set, revision, ...SET_DEFAULTS } },
    sequences: { [ids.sequence]: { id: ids.sequence, revision, name: 'Sequence', ...SEQUENCE_DEFAULTS } },
  };
}
