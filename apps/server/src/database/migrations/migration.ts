/**
 * A step of the database's history: plain statements that are never edited once they have run anywhere. Each is noted as soon as it
 * has run; it may be killed before that, so one that changes rows can be run twice.
 */
export interface Migration {
  readonly name: string;
  readonly statements: readonly string[];
}
