import { expect, test } from '@playwright/test';
import { Acts } from './acts.ts';
import { audioOf, cascadeCurrent, finishedRender, idOf } from './page.ts';
import { level, samplesOf, shareOf } from './sounds.ts';

const FLOAT = '?depth=32f';

/** What is sudden in a sound: its second difference. */
const edges = (x: Float64Array) => x.map((value, i) => (i < 2 ? 0 : value - 2 * x[i - 1] + x[i - 2]));

test('the five minutes of the README, step by step, end in a swell that rises up to the frame where the bell begins', async ({
  page,
}) => {
  const acts = new Acts(page);
  const bell = samplesOf(await audioOf(page, await idOf(page, 'sounds', 'Tram bell'), FLOAT));
  await page.goto('/');
  await acts.click('Begin with Tram bell');
  await cascadeCurrent(page);
  await acts.key('n');
  await acts.search('backwards');
  await acts.key('n');
  await acts.search('church');
  await acts.enter('decay time, value', '4 beats');
  await acts.key('n');
  await acts.search('backwards');
  await cascadeCurrent(page);
  const stop = page.getByRole('button', { name: 'Stop', exact: true });
  await acts.key(' ');
  await expect(stop).toBeVisible();
  await acts.key(' ');
  await expect(stop).toBeHidden();
  await acts.click('Render', 'tab');
  await acts.click('Render');
  await acts.enter('Name of the new chain', 'Into the bell');
  const swell = samplesOf(await finishedRender(page, FLOAT));
  expect(swell.rate).toBe(bell.rate);
  expect(swell.begins).toBeLessThan(-1);
  const onset = bell.begins - swell.begins;
  const quarters = [0, 1, 2, 3].map((n) => level(swell, (n / 4) * onset, ((n + 1) / 4) * onset));
  for (const n of [1, 2, 3]) expect(quarters[n]).toBeGreaterThan(2 * quarters[n - 1]);
  // The bell is in it, to the frame where it was.
  const strike = edges(bell.left).subarray(0, -bell.rate / 10);
  const shares = [-20, -1, 0, 1, 20].map((off) =>
    shareOf(strike, edges(swell.left), Math.round(onset * swell.rate) + off),
  );
  expect(Math.max(...shares)).toBe(shares[2]);
  expect(shares[2]).toBeGreaterThan(0.5);
  await page.locator('[data-render=done]').getByRole('button', { name: /^Play/ }).click();
  await expect(page.locator('[data-render=done]').getByRole('button', { name: /^Stop/ })).toBeVisible();
});
