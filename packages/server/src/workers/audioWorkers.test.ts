import { setTimeout as wait } from 'node:timers/promises';
import { expect, test } from 'vitest';
import { AudioWorkers } from './audioWorkers.ts';

test('threads can be stopped at any moment of their start', async () => {
  let stopped = 0;
  for (let pause = 20; pause < 240; pause += 5) {
    const workers = new AudioWorkers();
    await wait(pause);
    await workers.close();
    stopped += 1;
  }
  expect(stopped).toBe(44);
});
