import type { LookId } from '../tables';
import type { NamedCdl } from './cdl-files';
import { readCdl } from './cdl-files';
import { readCube } from './cube';
import type { WrittenLook } from './look-text';
import { readLookText } from './look-text';

/** What a file of a look holds: corrections of colours, a table of them (which stays a file), or what a look's own text says. */
export type ReadLook =
  | { readonly kind: 'cdl'; readonly corrections: readonly NamedCdl[] }
  | { readonly kind: 'cube'; readonly title: string }
  | { readonly kind: 'look'; readonly written: WrittenLook };

/** How each kind of file of a look is read. @throws InterchangeError naming the line and the way out. */
export const READ_LOOKS: Readonly<Record<LookId, (text: string) => ReadLook>> = {
  cdl: (text) => ({ kind: 'cdl', corrections: readCdl(text) }),
  cube: (text) => ({ kind: 'cube', title: readCube(text).title }),
  look: (text) => ({ kind: 'look', written: readLookText(text) }),
};
