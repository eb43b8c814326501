import type { Sequelize } from 'sequelize';
import { SequelizeStorage, Umzug } from 'umzug';
import { firstTables } from './migrations/0001-first-tables';
import { theSet } from './migrations/0002-the-set';
import { theBench } from './migrations/0003-the-bench';
import { theMoves } from './migrations/0004-the-moves';
import { formTwo } from './migrations/0005-form-two';
import type { Migration } from './migrations/migration';

const MIGRATIONS: readonly Migration[] = [firstTables, theSet, theBench, theMoves, formTwo];

/** What of a migration is run and noted as one. */
export function stepsOf({ name, statements, oneByOne }: Migration): Pick<Migration, 'name' | 'statements'>[] {
  if (!oneByOne) return [{ name, statements }];
  return statements.map((statement, i) => ({
    name: `${name}/${String(i + 1).padStart(2, '0')}`,
    statements: [statement],
  }));
}

/** Brings the database to the newest form. */
export async function migrate(sequelize: Sequelize): Promise<void> {
  const umzug = new Umzug({
    migrations: MIGRATIONS.flatMap(stepsOf).map(({ name, statements }) => ({
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
