import { createReadStream } from 'node:fs';
import type { Context } from 'koa';
import parseRange from 'range-parser';
import { Problem } from './problem.ts';

export interface SentFile {
  readonly path: string;
  readonly bytes: number;
  /** Names the content: whoever has that has the file. */
  readonly sha256: string;
}

/**
 * Answers with a file, or with the one part of it that is asked for (RFC 9110, 13 and 14). `caching`: what Cache-Control says.
 * Problem 416 for a part that lies outside of it.
 */
export function sendFile(context: Context, { path, bytes, sha256 }: SentFile, caching: string): void {
  context.etag = sha256;
  context.set('Accept-Ranges', 'bytes');
  context.set('Cache-Control', caching);
  context.status = 200;
  if (context.fresh) {
    context.status = 304;
    return;
  }
  const asked = context.get('range');
  const condition = context.get('if-range');
  const wanted =
    asked !== '' && (condition === '' || condition === `"${sha256}"`) ? parseRange(bytes, asked) : undefined;
  if (wanted === -1) {
    context.set('Content-Range', `bytes */${bytes}`);
    throw new Problem(416, `${asked} lies outside of the file, which has ${bytes} bytes.`);
  }
  // What is no range of bytes, or several at once, is answered with the whole, as the standard allows.
  const part = Array.isArray(wanted) && wanted.type === 'bytes' && wanted.length === 1 ? wanted[0] : undefined;
  if (part) {
    context.status = 206;
    context.set('Content-Range', `bytes ${part.start}-${part.end}/${bytes}`);
  }
  context.length = part ? part.end - part.start + 1 : bytes;
  // Who asks for the head alone gets the head alone; Koa would leave the file open.
  if (context.method !== 'HEAD') context.body = createReadStream(path, part);
}
