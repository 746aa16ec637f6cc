import { expect, test, vi } from 'vitest';
import { RenderJobs } from './renderJobs.ts';

test('a job that comes while the next one is being looked for is not left lying', async () => {
  // The first look finds nothing, and its answer is only given when another job has come.
  let answer: (job: undefined) => void = () => undefined;
  const looks = [new Promise<undefined>((resolve) => (answer = resolve)), Promise.resolve({ id: 'late' })];
  const first = vi.fn(() => looks.shift() ?? Promise.resolve(undefined));
  const query = { where: () => query, orderBy: () => query, update: () => Promise.resolve(1), first };
  const begun: string[] = [];
  const jobs = new RenderJobs({
    database: () => query,
    renders: {
      add: () => Promise.resolve('late'),
      entry: (id: string) => Promise.resolve({ id }),
      get: (id: string) => Promise.resolve({ id, sourceId: `source of ${id}` }),
    },
    sounds: { get: (id: string) => (begun.push(id), Promise.reject(new Error('far enough'))) },
    files: { temporaryPath: () => '', discard: () => Promise.resolve() },
    log: { error: () => undefined },
  } as never);
  await jobs.open();
  expect(first).toHaveBeenCalledTimes(1);
  await jobs.add({ sourceId: 'source', chainId: 'chain', revision: 1 });
  answer(undefined);
  await expect.poll(() => begun).toEqual(['source of late']);
});
