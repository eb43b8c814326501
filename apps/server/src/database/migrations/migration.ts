/** A step of the database's history: plain statements that are never edited once they have run anywhere. */
export interface Migration {
  readonly name: string;
  readonly statements: readonly string[];
  /**
   * Whether each statement is noted as soon as it has run, so that a start that was killed in the middle goes on there. Each of
   * them can then be run twice: it may have been killed before it was noted.
   */
  readonly oneByOne?: true;
}
