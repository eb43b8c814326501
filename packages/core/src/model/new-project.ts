import { LEVEL_AS_IT_IS } from '../light';
import { FIRST_REVISION } from './fields';
import { FORM } from './form';
import { HEAD_DEFAULTS } from './head';
import type { Project } from './project';
import { emptyTables } from './project';
import { SEQUENCE_DEFAULTS } from './sequence';
import { SET_DEFAULTS } from './set';

/** Ids of what a new project has. */
export interface NewProjectIds {
  readonly project: string;
  readonly set: string;
  readonly sequence: string;
  /** Of a light group for sun and sky, and one for lamps; without them there are none. */
  readonly lightGroups?: { readonly outside: string; readonly lamps: string };
}

/** A project with an empty set and an empty sequence. Ids come from outside: the core has no randomness. */
export function newProject(ids: NewProjectIds, name: string): Project {
  const revision = FIRST_REVISION;
  const { outside, lamps } = ids.lightGroups ?? {};
  const group = (id: string | undefined, called: string) =>
    id === undefined ? {} : { [id]: { id, revision, name: called, level: LEVEL_AS_IT_IS } };
  return {
    form: FORM,
    seq: 0,
    head: { id: ids.project, revision, name, ...HEAD_DEFAULTS },
    measured: {},
    ...emptyTables(),
    lightGroups: { ...group(outside, 'outside'), ...group(lamps, 'lamps') },
    sets: { [ids.set]: { id: ids.set, revision, ...SET_DEFAULTS, daylightGroupId: outside ?? null } },
    sequences: { [ids.sequence]: { id: ids.sequence, revision, name: 'Sequence', ...SEQUENCE_DEFAULTS } },
  };
}
