/**
 * No render changes unless on purpose: hashes of all of them stand in renders.sha256.json. A few are tried each time, all by
 * `npm run renders`; `npm run renders:write` pins them anew, in a commit that says why.
 */
import { readFileSync, writeFileSync } from 'node:fs';
import { expect, test } from 'vitest';
import { PINNED_RENDERS } from './testing/pinnedRenders.ts';
import { someOf } from './testing/some.ts';

const FILE = new URL('renders.sha256.json', import.meta.url);
const ASKED = process.env['RENDERS'];
const EACH_TIME = 40;

const pinned = JSON.parse(readFileSync(FILE, 'utf8')) as Record<string, string>;

test('all are pinned', () => {
  if (ASKED === 'write') return;
  expect(Object.keys(pinned)).toEqual(PINNED_RENDERS.map(({ name }) => name));
});

test('come out as they did', { timeout: 3_600_000 }, async () => {
  const changed: string[] = [];
  const found: Record<string, string> = {};
  for (const { name, hash } of ASKED ? PINNED_RENDERS : someOf(PINNED_RENDERS, EACH_TIME)) {
    found[name] = await hash();
    if (found[name] !== pinned[name]) changed.push(name);
  }
  if (ASKED === 'write') writeFileSync(FILE, `${JSON.stringify(found, null, 2)}\n`);
  else expect(changed).toEqual([]);
});
