import { constants } from 'node:fs';
import { lstat, open, readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { MOST_SCRIPT_BYTES, type ScriptEntry } from '@hexenkessel/core/protocol';
import { titleOf } from './scripts.ts';

/** Files of the folder that are looked at. */
const MOST_FILES = 1000;
const ENDING = '.hxk.js';

interface Known {
  readonly stamp: string;
  readonly entry: ScriptEntry;
}

/**
 * Scripts in a folder that somebody else looks after: regular files right in it, never written, read anew when one has
 * changed. Links are not followed.
 */
export class Favourites {
  private readonly folder: string | undefined;
  private readonly known = new Map<string, Known>();

  constructor(folder: string | undefined) {
    this.folder = folder;
  }

  /** What is there now; a folder that cannot be read has nothing. */
  async all(): Promise<ScriptEntry[]> {
    const { folder } = this;
    if (folder === undefined) return [];
    const names = (await readdir(folder).catch(() => [])).filter((name) => name.endsWith(ENDING)).sort();
    const entries: ScriptEntry[] = [];
    for (const name of names.slice(0, MOST_FILES)) {
      const entry = await this.read(folder, name).catch(() => undefined);
      if (entry) entries.push(entry);
      else this.known.delete(name);
    }
    return entries;
  }

  private async read(folder: string, name: string): Promise<ScriptEntry | undefined> {
    const path = join(folder, name);
    if (!(await lstat(path)).isFile()) return undefined;
    // What lies there may be exchanged for a link in between.
    const file = await open(path, constants.O_RDONLY | constants.O_NOFOLLOW);
    try {
      const { size, mtimeMs, ino } = await file.stat();
      if (size > MOST_SCRIPT_BYTES) return undefined;
      const stamp = `${ino} ${size} ${mtimeMs}`;
      const before = this.known.get(name);
      if (before?.stamp === stamp) return before.entry;
      const text = await file.readFile('utf8');
      const title = titleOf(text) ?? name.slice(0, -ENDING.length);
      const changedAt = new Date(mtimeMs).toISOString();
      const entry: ScriptEntry = { id: `favourite-${name}`, title, text, revision: 0, from: 'favourites', changedAt };
      this.known.set(name, { stamp, entry });
      return entry;
    } finally {
      await file.close();
    }
  }
}
