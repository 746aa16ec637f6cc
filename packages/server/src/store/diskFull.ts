/** What is said wherever there is no room; answered with 507. */
export class DiskFull extends Error {
  constructor(detail = 'The disk is full; free some space and try again. Nothing was changed.') {
    super(detail);
  }
}

/** True for what the file system and the database throw then. */
export function isDiskFull(error: unknown): boolean {
  const { code } = error as { code?: unknown };
  return error instanceof DiskFull || code === 'ENOSPC' || code === 'SQLITE_FULL';
}
