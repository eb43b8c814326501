import type { Project } from '../model';
import type { Finding } from './finding';

/** What a cut may want on purpose. What keeps a picture from being made cannot be meant. */
const MAY_BE_MEANT: ReadonlySet<string> = new Set<Finding['code']>([
  'gap',
  'still-shot',
  'past-move',
  'same-frames',
  'transitions-overlap',
  'handles-short',
]);

/** Something that was found in a shot, or where one meets the shot before it. */
export interface FoundInShot {
  readonly code: string;
  readonly shotId?: string | undefined;
  readonly beforeId?: string | undefined;
}

/** What a shot keeps of something that is meant: of a joint it is with that neighbour alone. */
export function meantKey({ code, beforeId }: FoundInShot): string {
  return beforeId === undefined ? code : `${code} ${beforeId}`;
}

/** Whether a finding of a cut can be called meant. */
export function mayBeMeant({ code, shotId }: FoundInShot): boolean {
  return shotId !== undefined && MAY_BE_MEANT.has(code);
}

/** Whether somebody called it meant. */
export function isMeant({ shots }: Pick<Project, 'shots'>, found: FoundInShot): boolean {
  return shots[found.shotId ?? '']?.meant.includes(meantKey(found)) ?? false;
}
