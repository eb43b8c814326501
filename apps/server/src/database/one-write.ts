import type { Sequelize } from 'sequelize';

/**
 * Statements that the database is sent and carries out as one: all of them, durably, or none. One way there and back instead of one for
 * each, and for the beginning and the end of a transaction.
 */
export class OneWrite {
  private readonly statements: string[] = [];
  private readonly values: Record<string, unknown> = {};
  private count = 0;

  /** Names a value, to be put into a statement. */
  value(value: unknown): string {
    const name = `v${this.count++}`;
    this.values[name] = value;
    return `:${name}`;
  }

  add(statement: string): void {
    this.statements.push(statement);
  }

  /** Ends the write, with nothing written, unless the statement before it wrote one row. */
  expectOneRow(): void {
    this.statements.push(`IF ROW_COUNT() <> 1 THEN SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'not one row'; END IF`);
  }

  /** @throws what the database says; then nothing is written, unless the connection broke before its answer. */
  async run(sequelize: Sequelize): Promise<void> {
    await sequelize.query(
      `BEGIN NOT ATOMIC
        DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN ROLLBACK; RESIGNAL; END;
        START TRANSACTION;
        ${this.statements.join(';\n')};
        COMMIT;
      END`,
      { replacements: this.values },
    );
  }
}
