/** Absolute path of the repository. */
export const ROOT: string;
/** Names of all targets. */
export const TARGETS: readonly string[];
/** Builds those of the targets whose sources changed; `tell` gets a line for each that is built. */
export function ensureBuilt(targets?: readonly string[], tell?: (line: string) => void): Promise<void>;
