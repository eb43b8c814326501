import type { Sequelize, Transaction } from 'sequelize';
import { QueryTypes } from 'sequelize';

/** Rows of a statement with named places (`:name`), as a transaction sees them if one is given. */
export function select<Row extends object>(
  sequelize: Sequelize,
  statement: string,
  replacements: Record<string, unknown>,
  transaction?: Transaction,
): Promise<Row[]> {
  return sequelize.query<Row>(statement, {
    type: QueryTypes.SELECT,
    replacements,
    ...(transaction && { transaction }),
  });
}

/** Runs a statement with named places that changes rows. @returns how many it met. */
export async function write(
  sequelize: Sequelize,
  statement: string,
  replacements: Record<string, unknown>,
  transaction?: Transaction,
): Promise<number> {
  const [, met] = await sequelize.query(statement, {
    type: QueryTypes.UPDATE,
    replacements,
    ...(transaction && { transaction }),
  });
  return met;
}

/** JSON as the driver gives it: as text, or read already. */
export function parsed(json: unknown): unknown {
  return typeof json === 'string' ? JSON.parse(json) : json;
}
