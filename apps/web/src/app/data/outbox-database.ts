import type { Change } from '@arvex/core';
import type { DBSchema, IDBPDatabase } from 'idb';
import { openDB } from 'idb';

/** A change that waits to be sent. `key` gives the order. */
export interface Waiting {
  readonly key: number;
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

  private open(): Promise<IDBPDatabase<Schema>> {
    this.database ??= openDB<Schema>('arvex', 1, {
      upgrade: (database) => {
        database
          .createObjectStore('outbox', { keyPath: 'key', autoIncrement: true })
          .createIndex('project', 'projectId');
      },
    });
    return this.database;
  }

  async add(projectId: string, tabId: string, change: Change): Promise<void> {
    await (await this.open()).add('outbox', { projectId, tabId, change });
  }

  /** Waiting changes of a project in the order in which they were made. */
  async all(projectId: string): Promise<Waiting[]> {
    return (await (await this.open()).getAllFromIndex('outbox', 'project', projectId)) as Waiting[];
  }

  async replace(waiting: Waiting): Promise<void> {
    await (await this.open()).put('outbox', waiting);
  }

  async remove(key: number): Promise<void> {
    await (await this.open()).delete('outbox', key);
  }
}
