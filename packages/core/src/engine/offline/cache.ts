import { clipBytes, type Clip } from '../../model/clip.ts';

/** Keeps the clips that were used last, up to a number of bytes. Clips in it must not be changed. */
export class ClipCache {
  private readonly clips = new Map<string, Clip>();
  private readonly maxBytes: number;
  private bytes = 0;

  constructor(maxBytes: number) {
    this.maxBytes = maxBytes;
  }

  get usedBytes(): number {
    return this.bytes;
  }

  /** Bytes it may hold. */
  get capacity(): number {
    return this.maxBytes;
  }

  /** Whether a clip is there, without counting as a use of it. */
  has(key: string): boolean {
    return this.clips.has(key);
  }

  get(key: string): Clip | undefined {
    const clip = this.clips.get(key);
    if (clip) {
      this.clips.delete(key);
      this.clips.set(key, clip); // a Map keeps the order of insertion: last used, last thrown out
    }
    return clip;
  }

  set(key: string, clip: Clip): void {
    this.remove(key);
    const size = clipBytes(clip);
    if (size > this.maxBytes) return;
    for (const oldest of this.clips.keys()) {
      if (this.bytes + size <= this.maxBytes) break;
      this.remove(oldest);
    }
    this.clips.set(key, clip);
    this.bytes += size;
  }

  private remove(key: string): void {
    const clip = this.clips.get(key);
    if (!clip) return;
    this.clips.delete(key);
    this.bytes -= clipBytes(clip);
  }
}
