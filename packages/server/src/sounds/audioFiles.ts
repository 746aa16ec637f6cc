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
  private readonly asideFolder: string;

  constructor(dataFolder: string) {
    this.folder = join(dataFolder, 'audio');
    this.temporaryFolder = join(dataFolder, 'unfinished');
    this.asideFolder = join(dataFolder, 'orphaned');
  }

  /** Makes the folders and clears away what an interrupted run left unfinished. */
  async open(): Promise<void> {
    await mkdir(this.folder, { recursive: true });
    await mkdir(this.temporaryFolder, { recursive: true });
    for (const name of await readdir(this.temporaryFolder))
      await rm(join(this.temporaryFolder, name), { force: true, recursive: true });
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

  /** Streams bytes that are no sound to a temporary file, however many they are; gives its path. */
  async receiveAny(bytes: Readable): Promise<string> {
    const path = this.temporaryPath();
    try {
      await pipeline(bytes, createWriteStream(path, { flags: 'wx' }));
      return path;
    } catch (error) {
      await this.discard(path);
      throw error;
    }
  }

  /** Moves a finished temporary file, whose bytes are on the disk, to its place; that is on the disk too when it is done. */
  async keep(path: string, sha256: string): Promise<void> {
    const target = this.pathOf(sha256);
    const made = await mkdir(dirname(target), { recursive: true });
    await rename(path, target);
    await flushFolder(dirname(target));
    if (made !== undefined) await flushFolder(this.folder);
  }

  /**
   * Lays audio aside that no sound has, such as what was moved to its place when the process ended before it was noted; and
   * puts back what was laid aside and is used. It is not deleted: with another database put in place of a damaged one, all
   * audio is without a sound, until the right one is back.
   */
  async layOrphansAside(used: ReadonlySet<string>): Promise<void> {
    for (const sha256 of await this.present())
      if (!used.has(sha256)) await this.move(this.pathOf(sha256), this.asidePathOf(sha256));
    for (const sha256 of await this.aside())
      if (used.has(sha256) && !(await isThere(this.pathOf(sha256))))
        await this.move(this.asidePathOf(sha256), this.pathOf(sha256));
  }

  /** The hashes of audio that was laid aside. */
  async aside(): Promise<string[]> {
    const names = await readdir(this.asideFolder).catch((): string[] => []);
    return names.filter((name) => /^[0-9a-f]{64}\.wav$/.test(name)).map((name) => basename(name, '.wav'));
  }

  async removeAside(sha256: string): Promise<void> {
    await rm(this.asidePathOf(sha256), { force: true });
  }

  private asidePathOf(sha256: string): string {
    return join(this.asideFolder, `${sha256}.wav`);
  }

  private async move(from: string, to: string): Promise<void> {
    await mkdir(dirname(to), { recursive: true });
    await rename(from, to);
    await flushFolder(dirname(to));
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

  /** Free on the disk. */
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

const isThere = (path: string) =>
  stat(path).then(
    () => true,
    () => false,
  );
