import { expect, test } from 'vitest';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { withScripts } from './withScripts.ts';

const text = `export const language = 1;
export const title = 'Lamp';
export const family = 'drive';
export const summary = 'Nothing.';
export function channel() { return (x) => x; }`;
const scripts = [{ id: 'lamp', language: 'hexenkessel', text }];

test('what brings scripts is done once they can be read, and what comes behind it stays behind it', async () => {
  const done: string[] = [];
  const work = withScripts({
    plain: (name: string) => void done.push(name),
    titled: (chain: { readonly scripts: typeof scripts }) => {
      const { title } = BUILT_INS.for(chain).of({ kind: 'script', script: 'lamp' });
      done.push(title);
      return title;
    },
  });
  work.plain('before');
  const titled: unknown = work.titled({ scripts });
  const behind: unknown = work.plain('behind');
  expect(done).toEqual(['before']);
  expect(await titled).toBe('Lamp');
  await behind;
  work.plain('after');
  expect(done).toEqual(['before', 'Lamp', 'behind', 'after']);
});
