/** Keys that come faster than the page can draw them, as from one that is held down on a slow machine: nothing gives up. */
import { expect, test, type Page } from '@playwright/test';
import { addStage, openEmpty, openNewScript, watchFaults } from './page.ts';

/** Presses all of them without waiting for the page, which has a quarter of its speed. */
async function pressAtOnce(page: Page, keys: readonly string[]): Promise<void> {
  const client = await page.context().newCDPSession(page);
  await client.send('Emulation.setCPUThrottlingRate', { rate: 4 });
  await Promise.all(keys.map((key) => page.keyboard.press(key)));
  await client.send('Emulation.setCPUThrottlingRate', { rate: 1 });
}

const times = (count: number, key: string): readonly string[] => Array.from({ length: count }, () => key);

test('an arrow held down on a setting turns it by every step, there and back', async ({ page }) => {
  const faults = watchFaults(page);
  await openEmpty(page, 'Held down', 'Foghorn');
  await addStage(page, 'echo');
  const slider = page.getByRole('slider', { name: 'feedback', exact: true });
  await slider.focus();
  const before = Number(await slider.getAttribute('aria-valuenow'));
  await pressAtOnce(page, times(20, 'ArrowRight'));
  await expect.poll(async () => Number(await slider.getAttribute('aria-valuenow'))).toBeGreaterThan(before);
  await pressAtOnce(page, [...times(40, 'ArrowLeft'), ...times(40, 'ArrowRight'), ...times(20, 'ArrowLeft')]);
  await expect.poll(async () => Number(await slider.getAttribute('aria-valuenow'))).toBeCloseTo(before, 6);
  expect(faults).toEqual([]);
});

test('a script is typed faster than it is drawn: each letter arrives, and it is kept', async ({ page }) => {
  const faults = watchFaults(page);
  const editor = await openNewScript(page, 'empty');
  const letters = Array.from({ length: 200 }, (_, n) => 'abcdefghij'[(7 * n) % 10]);
  await pressAtOnce(page, letters);
  await expect(editor).toHaveText(letters.join(''));
  await expect(page.locator('[data-keeping=kept]')).toBeVisible();
  expect(faults).toEqual([]);
});
