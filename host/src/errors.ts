/** The code of a failed system call (`ENOENT` …), or undefined for any other error. */
export function systemCode(error: unknown): string | undefined {
  return error instanceof Error && 'code' in error && typeof error.code === 'string' ? error.code : undefined;
}
