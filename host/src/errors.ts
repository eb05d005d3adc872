/** The code of a failed system call (`ENOENT` …), or undefined for any other error. */
export function systemCode(error: unknown): string | undefined {
  if (!(error instanceof Error) || !('code' in error) || typeof error.code !== 'string') return undefined;
  // Failures have codes of our own, in small letters.
  return /^E[A-Z0-9_]+$/.test(error.code) ? error.code : undefined;
}

/** How the system, a quota, and the database say that there is no room any more. */
const FULL = new Set(['ENOSPC', 'EDQUOT', 'ER_DISK_FULL', 'ER_RECORD_FILE_FULL']);

/** Whether an error or its cause is a full disk, in a file, FFmpeg or the database. */
export function isDiskFull(error: unknown): boolean {
  if (FULL.has(systemCode(error) ?? '')) return true;
  return error instanceof Error && error.cause !== undefined && isDiskFull(error.cause);
}
