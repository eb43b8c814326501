import { inject } from '@angular/core';
import { importersOf } from '@arvex/interchange/tables';
import type { ActionSource } from '../../session';
import { FilesIn } from './files-in';

/** Bringing in files of any kind, found by the names and endings of all that can be read. */
export function interchangeActions(): ActionSource {
  const files = inject(FilesIn);
  const words = importersOf().flatMap(({ name, endings }) => [name, ...endings]);
  return () => [
    {
      name: 'Bring in files',
      words: `import open load geometry picture sound look ${words.join(' ')}`,
      run: () => files.choose(),
    },
  ];
}
