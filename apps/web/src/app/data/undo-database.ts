import { Injectable } from '@angular/core';
import type { Operation } from '@arvex/core';
import type { DBSchema, IDBPDatabase, IDBPTransaction } from 'idb';
import { openDB } from 'idb';

/** A step of undo: what was done, what takes it back, and up to where the history was known then. */
export interface Step {
  readonly name: string;
  readonly operations: readonly Operation[];
  readonly seq: number;
}

/** Steps of a tab in a project: those to be taken back, and those to be made again, each from the oldest. */
export interface Steps {
  readonly past: readonly Step[];
  readonly future: readonly Step[];
}

/** What a tab did in a project, and the ids of the changes that it sent. */
export interface KeptSteps extends Steps {
  readonly own: readonly string[];
}

type ListKey = [tab: string, projectId: string];

/** A list names its steps; each of them has a row of its own, written once, and so has every change that the tab sent (when, ms). */
interface Schema extends DBSchema {
  lists: { key: ListKey; value: { past: readonly string[]; future: readonly string[]; at: number } };
  steps: { key: [...ListKey, stepId: string]; value: string };
  own: { key: [...ListKey, changeId: string]; value: number };
}
const STORES = ['lists', 'steps', 'own'] as const;

/** Lists of tabs that have not been used for so long are forgotten, ms. */
const FORGOTTEN_MS = 14 * 24 * 3600 * 1000;
/** The steps of a list are kept up to so many characters of JSON, the newest first. */
const MOST_CHARACTERS = 32e6;
/** So many changes of its own a tab tells from those of others. */
const KNOWN_AS_OWN = 2000;

/** Undo lists of this browser's tabs in IndexedDB. */
@Injectable({ providedIn: 'root' })
export class UndoDatabase {
  private database: Promise<IDBPDatabase<Schema>> | undefined;
  private readonly ids = new WeakMap<Step, string>();
  /** Length of every step that has a row, by id; lists by their key. */
  private readonly written = new Map<string, ReadonlyMap<string, number>>();

  private open(): Promise<IDBPDatabase<Schema>> {
    const forget = () => (this.database = undefined);
    this.database ??= new Promise<IDBPDatabase<Schema>>((opened, failed) => {
      openDB<Schema>('arvex-undo-steps', 2, {
        upgrade: (database, before, wanted, transaction) => void upgrade(database, before, wanted, transaction),
        blocked: () => failed(new Error('A tab of an older Arvex is open.')),
        blocking: (_before, _wanted, event) => {
          (event.target as IDBDatabase).close();
          forget();
        },
        terminated: forget,
      }).then(opened, failed);
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

  /** The list of a tab; of a tab without one, the newest that a closed tab left for the project, which becomes its own. */
  async get(tab: string, projectId: string, living: ReadonlySet<string>): Promise<KeptSteps | undefined> {
    const database = await this.open();
    const transaction = database.transaction([...STORES], 'readwrite');
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
    const own = await ownOf(transaction, [from, projectId]);
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
    const kept = { past: steps(past), future: steps(future), own };
    this.written.set(`${tab} ${projectId}`, written);
    if (from !== tab) {
      await this.put(tab, projectId, kept);
      for (const id of own) await this.addOwn(tab, projectId, id);
    }
    return kept;
  }

  /** Keeps that a change was sent by a tab. */
  async addOwn(tab: string, projectId: string, changeId: string): Promise<void> {
    await (await this.open()).put('own', Date.now(), [tab, projectId, changeId]);
  }

  /** Keeps the list: rows of new steps are added, rows of steps that are gone are taken out. */
  async put(tab: string, projectId: string, { past, future }: Steps): Promise<void> {
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
    const transaction = (await this.open()).transaction([...STORES], 'readwrite');
    const steps = transaction.objectStore('steps');
    const gone = [...before.keys()].filter((id) => !after.has(id));
    await Promise.all([
      ...[...added].map(([id, text]) => steps.put(text, [tab, projectId, id])),
      ...gone.map((id) => steps.delete([tab, projectId, id])),
      transaction.objectStore('lists').put({ ...names, at: Date.now() }, [tab, projectId]),
      transaction.done,
    ]);
    this.written.set(key, after);
  }
}

type Writing = IDBPTransaction<Schema, (typeof STORES)[number][], 'readwrite'>;

/** Of all keys, lists sort last: this is everything that begins with the two. */
const allOf = ([tab, projectId]: ListKey): IDBKeyRange => IDBKeyRange.bound([tab, projectId], [tab, projectId, []]);

/** The ids of the changes that a tab sent, the newest; older ones are forgotten. */
async function ownOf(transaction: Writing, list: ListKey): Promise<string[]> {
  const own = transaction.objectStore('own');
  const [keys, times] = await Promise.all([own.getAllKeys(allOf(list)), own.getAll(allOf(list))]);
  const rows = keys.map((key, i) => ({ key, at: times[i] ?? 0 })).sort((a, b) => b.at - a.at);
  await Promise.all(rows.slice(KNOWN_AS_OWN).map(({ key }) => own.delete(key)));
  return rows.slice(0, KNOWN_AS_OWN).map(({ key: [, , id] }) => id);
}

/** Takes a list out with all its steps. */
async function takenOut(transaction: Writing, list: ListKey): Promise<void> {
  await transaction.objectStore('steps').delete(allOf(list));
  await transaction.objectStore('own').delete(allOf(list));
  await transaction.objectStore('lists').delete(list);
}

/** Makes what is missing. The first version kept the ids of changes in the row of their list. */
async function upgrade(
  database: IDBPDatabase<Schema>,
  before: number,
  _wanted: number | null,
  transaction: IDBPTransaction<Schema, (typeof STORES)[number][], 'versionchange'>,
): Promise<void> {
  if (before < 1) for (const store of ['lists', 'steps'] as const) database.createObjectStore(store);
  if (before < 2) database.createObjectStore('own');
  if (before !== 1) return;
  for (let cursor = await transaction.objectStore('lists').openCursor(); cursor; cursor = await cursor.continue()) {
    const { key, value } = cursor;
    const { own, ...list } = value as Schema['lists']['value'] & { own?: readonly string[] };
    await Promise.all((own ?? []).map((id) => transaction.objectStore('own').put(list.at, [...key, id])));
    await cursor.update(list);
  }
}

async function forgetOld(database: IDBPDatabase<Schema>): Promise<void> {
  const transaction = database.transaction([...STORES], 'readwrite');
  const lists = transaction.objectStore('lists');
  for (let cursor = await lists.openCursor(); cursor; cursor = await cursor.continue()) {
    if (Date.now() - cursor.value.at > FORGOTTEN_MS) await takenOut(transaction, cursor.key);
  }
  await transaction.done;
}
