/** How MariaDB says that a table's file is damaged or gone. */
const DAMAGED = new Set([
  ...['ER_CRASHED_ON_USAGE', 'ER_CRASHED_ON_REPAIR', 'ER_NOT_KEYFILE', 'ER_OLD_KEYFILE', 'ER_GET_ERRNO'],
  ...['ER_TABLE_CORRUPT', 'ER_INDEX_CORRUPT', 'ER_NO_SUCH_TABLE_IN_ENGINE', 'ER_TABLESPACE_MISSING'],
  ...['ER_FILE_CORRUPT', 'ER_CANT_OPEN_FILE', 'ER_FILE_NOT_FOUND', 'ER_NOT_FORM_FILE'],
]);
const DAMAGED_NUMBERS = new Set([
  126, 127, 1030, 1032, 1033, 1034, 1035, 1194, 1195, 1707, 1712, 1812, 1877, 1932,
]);

/** Whether an error says that a table of the database is damaged: no query will bring back what it held, a backup does. */
export function isDamaged(error: unknown): boolean {
  if (!(error instanceof Error)) return false;
  const { code, errno } = error as { code?: unknown; errno?: unknown };
  return (
    (typeof code === 'string' && DAMAGED.has(code)) ||
    (typeof errno === 'number' &&
      DAMAGED_NUMBERS.has(errno) &&
      typeof code === 'string' &&
      code.startsWith('ER_')) ||
    (error.cause !== undefined && isDamaged(error.cause))
  );
}

/** What helps where a table is damaged: the start says which backup restores it (`wayOut` of scripts/mariadb.ts). */
export const damageHelp = (env: NodeJS.ProcessEnv = process.env): string =>
  env.OISEAU_WAY_OUT ?? 'Restore the newest backup: npm run restore -- BACKUP FOLDER.';
