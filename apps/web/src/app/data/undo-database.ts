import { Injectable } from '@angular/core';
import type { Operation } from '@arvex/core';
import type { DBSchema, IDBPDatabase } from 'idb';
import { openDB } from 'idb';

/** A step of undo: what was done, what takes it back, and up to where the history was known then. */
export interface Step {
  readonly name: string;
  readonly operations: readonly Operation[];
  readonly seq: number;
}

/** What a tab did in a project, and the ids of the changes that it sent. */
export interface KeptSteps {
  readonly past: readonly Step[];
  readonly future: readonly Step[];
  readonly own: readonly string[];
}

interface Schema extends DBSchema {
  steps: { key: [tab: string, projectId: string]; value: KeptSteps & { at: number } };
}

/** Lists of tabs that have not been used for so long are forgotten, ms. */
const FORGOTTEN_MS = 14 * 24 * 3600 * 1000;

/** Undo lists of this browser's tabs in IndexedDB. */
@Injectable({ providedIn: 'root' })
export class UndoDatabase {
  private database: Promise<IDBPDatabase<Schema>> | undefined;

  private open(): Promise<IDBPDatabase<Schema>> {
    const forget = () => (this.database = undefined);
    this.database ??= openDB<Schema>('arvex-undo', 1, {
      upgrade: (database) => void database.createObjectStore('steps'),
      terminated: forget,
    })
      .then(async (database) => {
        await forgetOld(database);
        return database;
      })
      .catch((error: unknown) => {
        forget();
        throw error;
      });
    return this.database;
  }

  async get(tab: string, projectId: string): Promise<KeptSteps | undefined> {
    return (await this.open()).get('steps', [tab, projectId]);
  }

  async put(tab: string, projectId: string, steps: KeptSteps): Promise<void> {
    await (await this.open()).put('steps', { ...steps, at: Date.now() }, [tab, projectId]);
  }
}

async function forgetOld(database: IDBPDatabase<Schema>): Promise<void> {
  const store = database.transaction('steps', 'readwrite').store;
  for (let cursor = await store.openCursor(); cursor; cursor = await cursor.continue()) {
    if (Date.now() - cursor.value.at > FORGOTTEN_MS) await cursor.delete();
  }
}
