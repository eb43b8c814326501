import { inject, InjectionToken } from '@angular/core';
import type { Finding } from '@arvex/core';
import { findingsOf } from '@arvex/core';
import { ProjectStore } from '../data';

/** Something that finds what would spoil the output. It reads signals, and is asked again when they change. */
export type FindingSource = () => readonly Finding[];

/** All that finds; features contribute what only they can tell. */
export const FINDINGS = new InjectionToken<readonly FindingSource[]>('FINDINGS');

/** What the project by itself tells. */
export function projectFindings(): FindingSource {
  const store = inject(ProjectStore);
  return () => {
    const project = store.project();
    return project ? findingsOf(project) : [];
  };
}
