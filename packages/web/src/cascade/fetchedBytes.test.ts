import { afterEach, expect, test, vi } from 'vitest';
import { FetchedBytes } from './fetchedBytes.ts';

const SIZE = 9_000_000;
const FILE = Uint8Array.from({ length: SIZE }, (_, i) => (i * 7 + (i >> 12)) % 251);
afterEach(() => void vi.unstubAllGlobals());

function serve(file: Uint8Array, fail: (start: number) => boolean = () => false): string[] {
  const asked: string[] = [];
  vi.stubGlobal('fetch', async (_: string, { headers: { range } }: { headers: { range: string } }) => {
    asked.push(range);
    const [start, end] = range.replace('bytes=', '').split('-').map(Number);
    if (fail(start)) return new Response(JSON.stringify({ detail: 'The audio is missing.' }), { status: 404 });
    const last = Math.min(end, file.length - 1);
    const part = file.slice(start, last + 1);
    return new Response(part, { status: 206, headers: { 'content-range': `bytes ${start}-${last}/${file.length}` } });
  });
  return asked;
}

test('any part is read, across blocks, and each block is fetched once as it is read through', async () => {
  const asked = serve(FILE);
  const bytes = await FetchedBytes.open('/sound');
  expect(bytes.size).toBe(SIZE);
  const whole = new Uint8Array(SIZE);
  for (let at = 0; at < SIZE; at += 300_007) whole.set(await bytes.read(at, Math.min(300_007, SIZE - at)), at);
  expect(Buffer.compare(whole, FILE)).toBe(0);
  expect(asked).toHaveLength(3);
  expect(await bytes.read(SIZE - 5, 5)).toEqual(FILE.slice(SIZE - 5));
  expect(await bytes.read(3, 4_500_000)).toEqual(FILE.slice(3, 4_500_003));
});

test('a small sound is one request; what is not there is told in the server’s words, and asked for again', async () => {
  const asked = serve(FILE.slice(0, 1000));
  const small = await FetchedBytes.open('/sound');
  expect(await small.read(10, 990)).toEqual(FILE.slice(10, 1000));
  expect(asked).toHaveLength(1);
  serve(FILE, () => true);
  await expect(FetchedBytes.open('/sound')).rejects.toThrow('The audio is missing.');
  let faulty = true;
  serve(FILE, (start) => start > 0 && faulty);
  const bytes = await FetchedBytes.open('/sound');
  await expect(bytes.read(5_000_000, 10)).rejects.toThrow('The audio is missing.');
  faulty = false;
  expect(await bytes.read(5_000_000, 10)).toEqual(FILE.slice(5_000_000, 5_000_010));
});
