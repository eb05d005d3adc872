/** A sheet for people, to be printed: what stands on it, and nothing of how it looks. */
export interface Paper {
  readonly title: string;
  readonly author: string;
  /** What it is: “PQ sheet”. */
  readonly what: string;
  /** Short facts over the table, by name; empty ones are left out. */
  readonly facts: readonly (readonly [name: string, value: string])[];
  readonly columns: readonly PaperColumn[];
  readonly rows: readonly PaperRow[];
  /** Sentences under the table. */
  readonly notes: readonly string[];
}

export interface PaperColumn {
  readonly name: string;
  /** Its width, in hundredths of the table; together they are 100. */
  readonly share: number;
  readonly isNumber: boolean;
}

export interface PaperRow {
  /** One for each column. */
  readonly cells: readonly string[];
  readonly isStrong?: boolean;
}
