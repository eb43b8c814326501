import type { AppliedChange, Change } from '@arvex/core';
import { changeFrom, FORM } from '@arvex/core';
import type { Sequelize, Transaction } from 'sequelize';
import { Op } from 'sequelize';
import type { OneWrite } from '../database/one-write';
import { parsed, select } from '../database/select';
import type { ChangeRow } from '../database/tables';
import { rowOf, rowsOf, tablesOf } from '../database/tables';
import { Problem } from '../problem/problem';

/** Changes that are read at once, bytes; the first one whatever its size. */
const MOST_BYTES = 8 * 1024 * 1024;

/** A change is brought up over this many others at most; who was away longer is asked. */
const MOST_HISTORY = 5000;

/** Who made a change, and when it was applied (ISO 8601). */
export type Stamp = Pick<AppliedChange, 'author' | 'at'>;

/** The changes of projects in the order in which they were applied. */
export class History {
  constructor(private readonly sequelize: Sequelize) {}

  /** Adds a change with its operations as JSON, and brings its project's place in the history to it. */
  async add(
    projectId: string,
    seq: number,
    { id, name, form }: Change,
    operations: string,
    { author, at }: Stamp,
    transaction: Transaction,
  ): Promise<void> {
    const { changes, projects } = tablesOf(this.sequelize);
    const row = { projectId, seq, author, madeAt: new Date(at), id, name, form, operations };
    await changes.create(row, { transaction });
    await projects.update({ seq }, { where: { id: projectId }, transaction });
  }

  /** Adds what {@link add} writes to a write of several statements, which ends there unless the project is at the place before. */
  addTo(
    write: OneWrite,
    projectId: string,
    seq: number,
    { id, name, form }: Change,
    operations: string,
    { author, at }: Stamp,
  ): void {
    const [project, place] = [write.value(projectId), write.value(seq)];
    write.add(`UPDATE projects SET seq = ${place} WHERE id = ${project} AND seq = ${write.value(seq - 1)}`);
    write.expectOneRow();
    const values = [author, databaseTime(at), id, name, form, operations].map((value) => write.value(value)).join(', ');
    write.add(
      `INSERT INTO changes (project_id, seq, author, made_at, id, name, form, operations)
         VALUES (${project}, ${place}, ${values})`,
    );
  }

  /** The change with this id, if it was applied before. @throws Problem `entity-exists` if to another project. */
  async byId(projectId: string, id: string, transaction: Transaction): Promise<AppliedChange | undefined> {
    const row = await rowOf(tablesOf(this.sequelize).changes, { where: { id }, transaction });
    if (row && row.projectId !== projectId) {
      throw new Problem('entity-exists', 'A change with this id belongs to another project.', { field: 'id' });
    }
    return row && appliedOf(row);
  }

  /** Changes since the oldest of some revisions; since the beginning where one is no change's. */
  async since(projectId: string, revisions: readonly string[], transaction: Transaction): Promise<AppliedChange[]> {
    const where = { projectId, id: [...new Set(revisions)] };
    const rows = await rowsOf(tablesOf(this.sequelize).changes, { where, transaction });
    // A change that was brought up itself was made from an earlier one: its history begins there.
    const earlier = rows.flatMap(({ operations }) =>
      (parsed(operations) as Change['operations']).flatMap((one) =>
        'madeFrom' in one && one.madeFrom ? [one.madeFrom] : [],
      ),
    );
    const unseen = earlier.filter((revision) => !revisions.includes(revision));
    if (unseen.length > 0) return this.since(projectId, [...revisions, ...unseen], transaction);
    const known = rows.map(({ seq }) => Number(seq));
    const first = known.length < new Set(revisions).size ? 0 : Math.min(...known);
    return this.after(projectId, first - 1, MOST_HISTORY, transaction);
  }

  /**
   * Changes after `seq` as JSON, oldest first, at most `limit` and some megabytes: who wants to know the rest asks again. What is
   * kept in the present form travels as it is kept.
   */
  async textsAfter(projectId: string, seq: number, limit: number): Promise<string[]> {
    // Sizes first, and texts as they are kept: no model asks how long a text is.
    const sizes = await select<{ seq: number; bytes: number }>(
      this.sequelize,
      `SELECT seq, LENGTH(operations) AS bytes FROM changes
         WHERE project_id = :projectId AND seq > :seq ORDER BY seq LIMIT :limit`,
      { projectId, seq, limit },
    );
    let [bytes, last] = [0, seq];
    for (const size of sizes) {
      bytes += Number(size.bytes);
      if (bytes > MOST_BYTES && last > seq) break;
      last = Number(size.seq);
    }
    const rows = await select<ChangeRow & { operations: string }>(
      this.sequelize,
      `SELECT ${COLUMNS}, CAST(operations AS CHAR) AS operations FROM changes
         WHERE project_id = :projectId AND seq > :seq AND seq <= :last ORDER BY seq`,
      { projectId, seq, last },
    );
    return rows.map((row) => {
      if (Number(row.form) !== FORM) return JSON.stringify(appliedOf(row));
      return appliedText(Number(row.seq), stampOf(row), { ...row, form: FORM }, row.operations);
    });
  }

  /** Changes after `seq`, oldest first, at most `limit`, in the present form. */
  async after(projectId: string, seq: number, limit: number, transaction?: Transaction): Promise<AppliedChange[]> {
    const where = { projectId, seq: { [Op.gt]: seq } };
    const options = { where, order: ['seq'], limit };
    const rows = await rowsOf(tablesOf(this.sequelize).changes, transaction ? { ...options, transaction } : options);
    return rows.map(appliedOf);
  }
}

/** JSON of an applied change whose operations are JSON already. */
export function appliedText(
  seq: number,
  { author, at }: Stamp,
  { form, id, name }: Omit<Change, 'operations'>,
  operations: string,
): string {
  const by = `"author":${JSON.stringify(author)},"at":${JSON.stringify(at)}`;
  const head = `"form":${form},"id":${JSON.stringify(id)},"name":${JSON.stringify(name)}`;
  return `{"seq":${seq},${by},"change":{${head},"operations":${operations}}}`;
}

function appliedOf(row: ChangeRow): AppliedChange {
  const { seq, id, name, form, operations } = row;
  const change = changeFrom({ form: Number(form), id, name, operations: parsed(operations) });
  return { seq: Number(seq), ...stampOf(row), change };
}

const COLUMNS = 'seq, author, made_at AS madeAt, id, name, form';

const stampOf = ({ author, madeAt }: ChangeRow): Stamp => ({ author, at: new Date(madeAt).toISOString() });

/** A time as the database writes it, UTC to the millisecond. */
const databaseTime = (at: string): string => at.replace('T', ' ').replace('Z', '');
