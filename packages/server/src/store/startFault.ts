import { diskFault } from '@hexenkessel/core/model';

/** Why the server cannot start, with what to do about it; shown as it is. */
export class StartFault extends Error {}

/** An error of the disk as a reason not to start; any other as it is. */
export function startFault(path: string, error: unknown): unknown {
  const found = diskFault(error);
  if (!found) return error;
  const { fault, remedy } = found;
  return new StartFault(
    `The data folder cannot be used. ${(error as NodeJS.ErrnoException).path ?? path}: ${fault}. ` +
      `${remedy[0].toUpperCase()}${remedy.slice(1)}, or set HEXENKESSEL_DATA to another folder.`,
  );
}
