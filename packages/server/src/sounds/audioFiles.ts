import { createHash, randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdir, readdir, rename, rm, stat, statfs } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { Transform, type Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { LIMITS } from '@hexenkessel/core/model';
import { Problem } from '../http/problem.ts';
import { flushFolder } from '../store/flushFolder.ts';

/** What is named as audio is here; whatever else lies about is left alone. */
const AUDIO = /^[0-9a-f]{2}[/\\][0-9a-f]{64}\.wav$/;

/** Audio on disk, named by the SHA-256 of its bytes. Files are written under a temporary name and never changed. */
export class AudioFiles {
  private readonly folder: string;
  private readonly temporaryFolder: string;

  constructor(dataFolder: string) {
    this.folder = join(dataFolder, 'audio');
    this.temporaryFolder = join(dataFolder, 'unfinished');
  }

  /** Makes the folders and clears away what an interrupted run left unfinished. */
  async open(): Promise<void> {
    await mkdir(this.folder, { recursive: true });
    await mkdir(this.temporaryFolder, { recursive: true });
    for (const name of await readdir(this.temporaryFolder)) await rm(join(this.temporaryFolder, name), { force: true });
  }

  pathOf(sha256: string): string {
    return join(this.folder, sha256.slice(0, 2), `${sha256}.wav`);
  }

  temporaryPath(): string {
    return join(this.temporaryFolder, randomUUID());
  }

  /** Streams bytes to a temporary file, counting them; a Problem when they pass the limit for sounds. */
  async receive(bytes: Readable): Promise<{ path: string; sha256: string; size: number }> {
    const path = this.temporaryPath();
    const hash = createHash('sha256');
    let size = 0;
    const counter = new Transform({
      transform(chunk: Buffer, _encoding, done) {
        size += chunk.length;
        hash.update(chunk);
        if (size > LIMITS.soundBytes)
          done(
            new Problem(
              413,
              `The sound is larger than ${LIMITS.soundBytes} bytes (4 GiB), which is the most that is allowed.`,
            ),
          );
        else done(null, chunk);
      },
    });
    try {
      await pipeline(bytes, counter, createWriteStream(path, { flags: 'wx', flush: true }));
    } catch (error) {
      await this.discard(path);
      throw error;
    }
    return { path, sha256: hash.digest('hex'), size };
  }

  /** Moves a finished temporary file, whose bytes are on the disk, to its place; that is on the disk too when it is done. */
  async keep(path: string, sha256: string): Promise<void> {
    const target = this.pathOf(sha256);
    const made = await mkdir(dirname(target), { recursive: true });
    await rename(path, target);
    await flushFolder(dirname(target));
    if (made !== undefined) await flushFolder(this.folder);
  }

  /** Takes away audio that no sound has: what was moved to its place when the process ended before it was noted. */
  async clearOrphans(used: ReadonlySet<string>): Promise<void> {
    for (const sha256 of await this.present()) if (!used.has(sha256)) await this.remove(sha256);
  }

  async discard(path: string): Promise<void> {
    await rm(path, { force: true });
  }

  /** Takes away what is kept under this hash. */
  async remove(sha256: string): Promise<void> {
    await rm(this.pathOf(sha256), { force: true });
  }

  /** The hashes of all audio on disk. */
  async present(): Promise<Set<string>> {
    const names = await readdir(this.folder, { recursive: true });
    return new Set(names.filter((name) => AUDIO.test(name)).map((name) => basename(name, '.wav')));
  }

  /** Bytes of all audio, and those free on the disk. */
  async usage(): Promise<{ readonly bytes: number; readonly freeBytes: number }> {
    let bytes = 0;
    for (const sha256 of await this.present()) bytes += (await stat(this.pathOf(sha256))).size;
    return { bytes, freeBytes: await this.freeBytes() };
  }

  /** On the disk. */
  async freeBytes(): Promise<number> {
    const { bavail, bsize } = await statfs(this.folder);
    return Math.min(Number.MAX_SAFE_INTEGER, bavail * bsize);
  }

  /** True when all of it is there: what was cut is as good as missing. */
  async exists({ sha256, bytes }: { readonly sha256: string; readonly bytes: number }): Promise<boolean> {
    return stat(this.pathOf(sha256)).then(
      ({ size }) => size === bytes,
      () => false,
    );
  }
}
