import { open } from 'node:fs/promises';

/** What was moved into a folder is on the disk only when the folder is. Not every system lets a folder be opened. */
export async function flushFolder(path: string): Promise<void> {
  let folder;
  try {
    folder = await open(path, 'r');
    await folder.sync();
  } catch (error) {
    if (!['EISDIR', 'EPERM', 'EACCES', 'EINVAL'].includes((error as NodeJS.ErrnoException).code ?? '')) throw error;
  } finally {
    await folder?.close();
  }
}
