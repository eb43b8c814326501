import { Injectable } from '@angular/core';
import type { Operation } from '@arvex/core';
import type { DBSchema, IDBPDatabase, IDBPTransaction } from 'idb';
import { deleteDB, openDB } from 'idb';

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

type ListKey = [tab: string, projectId: string];

/** A list names its steps; each of them has a row of its own, written once. */
interface Schema extends DBSchema {
  lists: {
    key: ListKey;
    value: { past: readonly string[]; future: readonly string[]; own: readonly string[]; at: number };
  };
  steps: { key: [...ListKey, stepId: string]; value: string };
}

/** Lists of tabs that have not been used for so long are forgotten, ms. */
const FORGOTTEN_MS = 14 * 24 * 3600 * 1000;
/** The steps of a list are kept up to so many characters of JSON, the newest first. */
const MOST_CHARACTERS = 32e6;

/** Undo lists of this browser's tabs in IndexedDB. */
@Injectable({ providedIn: 'root' })
export class UndoDatabase {
  private database: Promise<IDBPDatabase<Schema>> | undefined;
  private readonly ids = new WeakMap<Step, string>();
  /** Length of every step that has a row, by id; lists by their key. */
  private readonly written = new Map<string, ReadonlyMap<string, number>>();

  private open(): Promise<IDBPDatabase<Schema>> {
    const forget = () => (this.database = undefined);
    this.database ??= openDB<Schema>('arvex-undo-steps', 1, {
      upgrade: (database) => {
        database.createObjectStore('lists');
        database.createObjectStore('steps');
      },
      terminated: forget,
    })
      .then(async (database) => {
        // Lists in one row each, as they were kept before. A tab that still writes them ends them.
        void deleteDB('arvex-undo').catch(() => undefined);
        await forgetOld(database);
        return database;
      })
      .catch((error: unknown) => {
        forget();
        throw error;
      });
    return this.database;
  }

  /** The list of a tab; of a tab without one, the newest that a closed tab left for the project, which becomes its own. */
  async get(tab: string, projectId: string, living: ReadonlySet<string>): Promise<KeptSteps | undefined> {
    const database = await this.open();
    const transaction = database.transaction(['lists', 'steps'], 'readwrite');
    const lists = transaction.objectStore('lists');
    let from = tab;
    let list = await lists.get([tab, projectId]);
    if (!list) {
      for (let cursor = await lists.openCursor(); cursor; cursor = await cursor.continue()) {
        const [other, of] = cursor.key;
        if (of !== projectId || living.has(other) || cursor.value.at <= (list?.at ?? 0)) continue;
        [from, list] = [other, cursor.value];
      }
    }
    if (!list) return undefined;
    const read = async (id: string): Promise<readonly [string, string] | undefined> => {
      const text = await transaction.objectStore('steps').get([from, projectId, id]);
      return text === undefined ? undefined : [id, text];
    };
    const [past, future] = [await Promise.all(list.past.map(read)), await Promise.all(list.future.map(read))];
    if (from !== tab) await takenOut(transaction, [from, projectId]);
    await transaction.done;
    // Rows that were read from another tab are written anew as this tab's.
    const written = new Map<string, number>();
    const steps = (rows: typeof past) =>
      rows.flatMap((row) => {
        if (!row) return [];
        const [id, text] = row;
        const step = JSON.parse(text) as Step;
        this.ids.set(step, id);
        if (from === tab) written.set(id, text.length);
        return [step];
      });
    const kept = { past: steps(past), future: steps(future), own: list.own };
    this.written.set(`${tab} ${projectId}`, written);
    if (from !== tab) await this.put(tab, projectId, kept);
    return kept;
  }

  /** Keeps the list: rows of new steps are added, rows of steps that are gone are taken out. */
  async put(tab: string, projectId: string, { past, future, own }: KeptSteps): Promise<void> {
    const key = `${tab} ${projectId}`;
    const before = this.written.get(key) ?? new Map<string, number>();
    const after = new Map<string, number>();
    const added = new Map<string, string>();
    let room = MOST_CHARACTERS;
    const kept = (steps: readonly Step[]): string[] => {
      const names: string[] = [];
      for (const step of [...steps].reverse()) {
        const id = this.ids.get(step) ?? crypto.randomUUID();
        this.ids.set(step, id);
        const text = before.has(id) ? undefined : JSON.stringify(step);
        const length = text?.length ?? before.get(id) ?? 0;
        room -= length;
        if (room < 0) break;
        if (text !== undefined) added.set(id, text);
        after.set(id, length);
        names.unshift(id);
      }
      return names;
    };
    const names = { past: kept(past), future: kept(future) };
    const transaction = (await this.open()).transaction(['lists', 'steps'], 'readwrite');
    const steps = transaction.objectStore('steps');
    const gone = [...before.keys()].filter((id) => !after.has(id));
    await Promise.all([
      ...[...added].map(([id, text]) => steps.put(text, [tab, projectId, id])),
      ...gone.map((id) => steps.delete([tab, projectId, id])),
      transaction.objectStore('lists').put({ ...names, own, at: Date.now() }, [tab, projectId]),
      transaction.done,
    ]);
    this.written.set(key, after);
  }
}

type Writing = IDBPTransaction<Schema, ('lists' | 'steps')[], 'readwrite'>;

/** Takes a list out with all its steps. */
async function takenOut(transaction: Writing, [tab, projectId]: ListKey): Promise<void> {
  // Of all keys, lists sort last: this is everything that begins with the two.
  const all = IDBKeyRange.bound([tab, projectId], [tab, projectId, []]);
  await transaction.objectStore('steps').delete(all);
  await transaction.objectStore('lists').delete([tab, projectId]);
}

async function forgetOld(database: IDBPDatabase<Schema>): Promise<void> {
  const transaction = database.transaction(['lists', 'steps'], 'readwrite');
  const lists = transaction.objectStore('lists');
  for (let cursor = await lists.openCursor(); cursor; cursor = await cursor.continue()) {
    if (Date.now() - cursor.value.at > FORGOTTEN_MS) await takenOut(transaction, cursor.key);
  }
  await transaction.done;
}
