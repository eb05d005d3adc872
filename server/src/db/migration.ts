/** One step of the database's history. */
export interface Migration {
  readonly name: string;
  readonly statements: readonly string[];
}
