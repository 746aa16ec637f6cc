import { InputError } from '../../model/errors.ts';

/** Bytes that can be read from any place: a file, an upload, memory. */
export interface ByteSource {
  readonly size: number;
  /** Exactly `length` bytes from `offset`; both lie inside the source. */
  read(offset: number, length: number): Promise<Uint8Array>;
}

export function bytesInMemory(bytes: Uint8Array): ByteSource {
  return { size: bytes.length, read: async (offset, length) => bytes.subarray(offset, offset + length) };
}

/** What is used of a Blob. */
interface BlobLike {
  readonly size: number;
  slice(start: number, end: number): { arrayBuffer(): Promise<ArrayBuffer> };
}

/** A file picked or fetched in the page. */
export function bytesOfBlob(blob: BlobLike): ByteSource {
  return {
    size: blob.size,
    read: async (offset, length) => new Uint8Array(await blob.slice(offset, offset + length).arrayBuffer()),
  };
}

/** What is used of an open file. */
interface FileLike {
  read(into: Uint8Array, offset: number, length: number, position: number): Promise<{ bytesRead: number }>;
}

/** An open file of `size` bytes. */
export function bytesOfFile(file: FileLike, size: number): ByteSource {
  return {
    size,
    async read(offset, length) {
      const bytes = new Uint8Array(length);
      for (let done = 0; done < length;) {
        const { bytesRead } = await file.read(bytes, done, length - done, offset + done);
        if (bytesRead === 0) throw new InputError('The file became shorter while it was read.');
        done += bytesRead;
      }
      return bytes;
    },
  };
}
