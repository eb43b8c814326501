import type { Change } from '@arvex/core';
import type { DBSchema, IDBPDatabase } from 'idb';
import { openDB } from 'idb';

/** A change that waits to be sent. `key` gives the order; a change that this browser could not keep has none. */
export interface Waiting {
  readonly key: number | undefined;
  readonly projectId: string;
  readonly tabId: string;
  readonly change: Change;
}

interface Schema extends DBSchema {
  outbox: { key: number; value: Omit<Waiting, 'key'> & { key?: number }; indexes: { project: string } };
}

/** The outbox in IndexedDB: what is in it outlives the tab, the browser and the server. */
export class OutboxDatabase {
  private database: Promise<IDBPDatabase<Schema>> | undefined;

  /** Opened when it is first wanted, and again where the browser refused it or has closed it. */
  private open(): Promise<IDBPDatabase<Schema>> {
    const forget = () => (this.database = undefined);
    this.database ??= openDB<Schema>('arvex', 1, {
      upgrade: (database) => {
        database
          .createObjectStore('outbox', { keyPath: 'key', autoIncrement: true })
          .createIndex('project', 'projectId');
      },
      terminated: forget,
    }).catch((error: unknown) => {
      forget();
      throw error;
    });
    return this.database;
  }

  /** @returns the key of the change, which gives its place. */
  async add(projectId: string, tabId: string, change: Change): Promise<number> {
    return (await this.open()).add('outbox', { projectId, tabId, change });
  }

  /** Waiting changes of a project in the order in which they were made. */
  async all(projectId: string): Promise<Waiting[]> {
    return (await (await this.open()).getAllFromIndex('outbox', 'project', projectId)) as Waiting[];
  }

  async replace({ key, ...rest }: Waiting): Promise<void> {
    if (key !== undefined) await (await this.open()).put('outbox', { ...rest, key });
  }

  async remove(key: number): Promise<void> {
    await (await this.open()).delete('outbox', key);
  }
}
