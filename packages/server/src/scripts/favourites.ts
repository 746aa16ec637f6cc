import { constants } from 'node:fs';
import { lstat, open, readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { MOST_SCRIPT_BYTES, type FavouriteChain, type ScriptEntry } from '@hexenkessel/core/protocol';
import { titleOf } from './scripts.ts';

/** Files of the folder that are looked at. */
const MOST_FILES = 1000;
const SCRIPT_ENDING = '.hxk.js';
const CHAIN_ENDING = '.json';

/** A file as it was read last. */
interface Known {
  readonly stamp: string;
  readonly text: string;
  readonly changedAt: string;
}

/**
 * Scripts and chains in a folder that somebody else looks after: regular files right in it, never written, read anew when one
 * has changed. Links are not followed.
 */
export class Favourites {
  private readonly folder: string | undefined;
  private readonly known = new Map<string, Known>();

  constructor(folder: string | undefined) {
    this.folder = folder;
  }

  /** The scripts that are there now; a folder that cannot be read has none. */
  async scripts(): Promise<ScriptEntry[]> {
    return (await this.filesWith(SCRIPT_ENDING)).map(({ name, text, changedAt }) => ({
      id: `favourite-${name}`,
      title: titleOf(text) ?? name.slice(0, -SCRIPT_ENDING.length),
      text,
      revision: 0,
      from: 'favourites',
      changedAt,
    }));
  }

  /** The chains that are there now, as text: whether they are in order is found out by who takes one in. */
  async chains(): Promise<FavouriteChain[]> {
    return (await this.filesWith(CHAIN_ENDING)).map(({ name, text, changedAt }) => ({
      name: name.slice(0, -CHAIN_ENDING.length),
      text,
      changedAt,
    }));
  }

  private async filesWith(ending: string): Promise<(Known & { readonly name: string })[]> {
    const { folder } = this;
    if (folder === undefined) return [];
    const all = (await readdir(folder).catch(() => [])).sort().slice(0, MOST_FILES);
    const found: (Known & { readonly name: string })[] = [];
    for (const name of all.filter((one) => one.endsWith(ending))) {
      const file = await this.read(folder, name).catch(() => undefined);
      if (file) found.push({ name, ...file });
      else this.known.delete(name);
    }
    return found;
  }

  private async read(folder: string, name: string): Promise<Known | undefined> {
    const path = join(folder, name);
    if (!(await lstat(path)).isFile()) return undefined;
    // What lies there may be exchanged for a link in between.
    const file = await open(path, constants.O_RDONLY | constants.O_NOFOLLOW);
    try {
      const { size, mtimeMs, ino } = await file.stat();
      if (size > MOST_SCRIPT_BYTES) return undefined;
      const stamp = `${ino} ${size} ${mtimeMs}`;
      const before = this.known.get(name);
      if (before?.stamp === stamp) return before;
      const fresh = { stamp, text: await file.readFile('utf8'), changedAt: new Date(mtimeMs).toISOString() };
      this.known.set(name, fresh);
      return fresh;
    } finally {
      await file.close();
    }
  }
}
