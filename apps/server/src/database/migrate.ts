import type { Sequelize } from 'sequelize';
import { SequelizeStorage, Umzug } from 'umzug';
import { firstTables } from './migrations/0001-first-tables';
import { theSet } from './migrations/0002-the-set';
import { theBench } from './migrations/0003-the-bench';
import { theMoves } from './migrations/0004-the-moves';

/** A step of the database's history: plain statements that are never edited once they have run anywhere. */
export interface Migration {
  readonly name: string;
  readonly statements: readonly string[];
}

const MIGRATIONS: readonly Migration[] = [firstTables, theSet, theBench, theMoves];

/** Brings the database to the newest form. */
export async function migrate(sequelize: Sequelize): Promise<void> {
  const umzug = new Umzug({
    migrations: MIGRATIONS.map(({ name, statements }) => ({
      name,
      up: async () => {
        for (const statement of statements) await sequelize.query(statement);
      },
    })),
    storage: new SequelizeStorage({ sequelize, tableName: 'migrations', modelName: 'migration' }),
    logger: undefined,
  });
  await umzug.up();
}
