import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { InputError } from '@hexenkessel/core/model';
import { DATABASE } from './backupManifest.ts';

/** InputError when a folder holds no store; nothing is made there. */
export function refuseNoStore(path: string): void {
  if (!existsSync(join(path, DATABASE))) throw new InputError(`There is no store in ${path}: it holds no ${DATABASE}.`);
}
