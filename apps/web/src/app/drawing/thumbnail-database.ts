import { Injectable } from '@angular/core';
import type { DBSchema, IDBPDatabase } from 'idb';
import { openDB } from 'idb';

interface Schema extends DBSchema {
  pictures: { key: string; value: { readonly picture: Blob; readonly at: number }; indexes: { at: number } };
}

/** More small pictures than this are not kept: the oldest go. A few kB each. */
const MOST = 4000;
/** So many more come before the oldest are looked for. */
const SPARE = 200;

/** Small pictures in IndexedDB, by what they show: a project that was open before has them at once. */
@Injectable({ providedIn: 'root' })
export class ThumbnailDatabase {
  private database: Promise<IDBPDatabase<Schema>> | undefined;
  private came = 0;

  private open(): Promise<IDBPDatabase<Schema>> {
    const forget = () => (this.database = undefined);
    this.database ??= openDB<Schema>('arvex-thumbnails', 1, {
      upgrade: (database) => void database.createObjectStore('pictures').createIndex('at', 'at'),
      terminated: forget,
    }).catch((error: unknown) => {
      forget();
      throw error;
    });
    return this.database;
  }

  /** The picture of a key; nothing where this browser has none, or cannot say. */
  async get(key: string): Promise<Blob | undefined> {
    try {
      return (await (await this.open()).get('pictures', key))?.picture;
    } catch {
      return undefined; // it is drawn
    }
  }

  /** Keeps a picture. Where the browser has no room it is drawn again the next time. */
  async put(key: string, picture: Blob): Promise<void> {
    try {
      const database = await this.open();
      await database.put('pictures', { picture, at: Date.now() }, key);
      this.came += 1;
      if (this.came % SPARE === 1) await forgetOldest(database);
    } catch {
      // No room, or a private window: nothing is lost but time.
    }
  }
}

async function forgetOldest(database: IDBPDatabase<Schema>): Promise<void> {
  const store = database.transaction('pictures', 'readwrite').store;
  let over = (await store.count()) - MOST;
  for (let cursor = await store.index('at').openCursor(); cursor && over > 0; cursor = await cursor.continue()) {
    await cursor.delete();
    over -= 1;
  }
}
