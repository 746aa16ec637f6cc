import { InputError } from '@hexenkessel/core/model';
import type { ByteSource } from '@hexenkessel/core/formats';

/** Bytes that are fetched at once; most sounds come in one block. */
const BLOCK = 4 * 1024 * 1024;
/** Blocks that are held: the one that is read, and the next. */
const HELD = 3;

/** A file of the server, fetched block by block as it is read; the next one is on its way meanwhile. */
export class FetchedBytes implements ByteSource {
  readonly size: number;
  private readonly url: string;
  private readonly blocks = new Map<number, Promise<Uint8Array>>();

  private constructor(url: string, size: number, first: Uint8Array) {
    this.url = url;
    this.size = size;
    this.blocks.set(0, Promise.resolve(first));
  }

  /** InputError when it cannot be had. */
  static async open(url: string): Promise<FetchedBytes> {
    const { bytes, size } = await fetchPart(url, 0);
    return new FetchedBytes(url, size, bytes);
  }

  async read(offset: number, length: number): Promise<Uint8Array> {
    const bytes = new Uint8Array(length);
    for (let done = 0; done < length;) {
      const number = Math.floor((offset + done) / BLOCK);
      const block = await this.block(number);
      const from = offset + done - number * BLOCK;
      const part = block.subarray(from, from + length - done);
      if (part.length === 0) throw new InputError('The file became shorter while it was read.');
      bytes.set(part, done);
      done += part.length;
    }
    return bytes;
  }

  private block(number: number): Promise<Uint8Array> {
    const block = this.held(number);
    if ((number + 1) * BLOCK < this.size) this.held(number + 1).catch(() => undefined); // told when it is needed
    for (const old of this.blocks.keys()) if (this.blocks.size > HELD) this.blocks.delete(old);
    return block;
  }

  private held(number: number): Promise<Uint8Array> {
    const known = this.blocks.get(number);
    if (known) return known;
    const coming = fetchPart(this.url, number * BLOCK).then(({ bytes }) => bytes);
    this.blocks.set(number, coming);
    coming.catch(() => this.blocks.delete(number)); // the next reader asks again
    return coming;
  }
}

async function fetchPart(url: string, start: number): Promise<{ readonly bytes: Uint8Array; readonly size: number }> {
  const response = await fetch(url, { headers: { range: `bytes=${start}-${start + BLOCK - 1}` } });
  if (!response.ok) throw new InputError(((await response.json()) as { detail: string }).detail);
  const bytes = new Uint8Array(await response.arrayBuffer());
  const whole = Number(/\/(\d+)$/.exec(response.headers.get('content-range') ?? '')?.[1]);
  if (response.status !== 206 || !Number.isFinite(whole))
    throw new InputError('The server does not send sounds in parts.');
  return { bytes, size: whole };
}
