import { open, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { Middleware } from 'koa';
import type { AudioFiles } from '../sounds/audioFiles.ts';
import { isDiskFull } from './diskFull.ts';

/** Bytes that are kept back, so that on a full disk there is still room to delete and to cancel. */
export const RESERVE_BYTES = 8 * 1024 * 1024;

/** A file that takes up room until it is needed. */
export class Reserve {
  private readonly path: string;
  private readonly files: AudioFiles;

  constructor(dataFolder: string, files: AudioFiles) {
    this.path = join(dataFolder, 'reserve');
    this.files = files;
  }

  /** Takes the room, where there is enough beside it. */
  async hold(): Promise<void> {
    const held = await stat(this.path).then(
      ({ size }) => size >= RESERVE_BYTES,
      () => false,
    );
    if (held || (await this.files.freeBytes()) < 2 * RESERVE_BYTES) return;
    try {
      const file = await open(this.path, 'w');
      try {
        await file.writeFile(Buffer.alloc(RESERVE_BYTES));
        await file.sync();
      } finally {
        await file.close();
      }
    } catch (error) {
      await this.release();
      if (!isDiskFull(error)) throw error;
    }
  }

  async release(): Promise<void> {
    await rm(this.path, { force: true });
  }

  /** What frees room, or stops what takes it, gets the reserve to work with. */
  forFreeing(): Middleware {
    return async (context, next) => {
      const freeing =
        context.method === 'DELETE' || (context.method === 'POST' && /\/(cancel|clean)$/.test(context.path));
      if (!freeing) return next();
      if ((await this.files.freeBytes()) < RESERVE_BYTES) await this.release();
      await next();
      await this.hold();
    };
  }
}
