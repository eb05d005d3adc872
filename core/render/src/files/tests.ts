import type { ProofTest } from '../proof-file.js';

type Value = string | number | null;

/** A test that what was found is what was wanted. */
export const equal = (id: ProofTest['id'], found: Value, wanted: Value): ProofTest => ({
  id,
  passed: found === wanted,
  found,
  wanted,
});
