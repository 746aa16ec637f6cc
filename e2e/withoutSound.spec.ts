import { expect, test, type Page } from '@playwright/test';
import { cascadeCurrent, idOf } from './page.ts';
import { openBench, play, setValue } from './playing.ts';

test.describe('when there is no sound to be had, the page says so and goes on', () => {
  const tries: [string, (page: Page) => Promise<unknown>, RegExp][] = [
    [
      'no audio thread',
      (page) => page.addInitScript(() => void delete (window as { AudioWorkletNode?: unknown }).AudioWorkletNode),
      /no audio thread or no shared memory/,
    ],
    [
      'the engine cannot be loaded',
      (page) =>
        page.addInitScript(() => {
          AudioWorklet.prototype.addModule = () => Promise.reject(new Error('404'));
        }),
      /engine could not be loaded.*Reload the page/,
    ],
    [
      'no audio device',
      (page) =>
        page.addInitScript(() => {
          AudioContext.prototype.resume = () => new Promise(() => undefined);
          Object.defineProperty(AudioContext.prototype, 'state', { get: () => 'suspended' });
        }),
      /no audio device, or another program holds it/,
    ],
  ];
  for (const [name, prepare, message] of tries) {
    test(name, async ({ page }) => {
      await prepare(page);
      await openBench(page, await idOf(page, 'chains', 'Copper Dome'), await idOf(page, 'sounds', 'Tram bell'));
      await play(page);
      await expect(page.getByText(message)).toBeVisible();
      await expect(page.getByTestId('play-line')).toBeHidden();
      await setValue(page, 'decay time', '1.1 s');
      await cascadeCurrent(page);
    });
  }

  test('a link to a sound that is not here: another one is taken, which is said once', async ({ page }) => {
    await page.goto(`/bench/${await idOf(page, 'chains', 'Copper Dome')}?sound=nowhere`);
    const told = page.getByText('The sound of this link is not here');
    await expect(told).toHaveCount(1);
    await cascadeCurrent(page);
    await expect(page).not.toHaveURL(/nowhere/);
    await page.getByRole('link', { name: 'Library' }).click();
    await page.goBack();
    await cascadeCurrent(page);
    await expect(told).toHaveCount(1);
  });

  test('audio that is missing on disk while another sound plays: said, and the others still play', async ({ page }) => {
    const bell = await idOf(page, 'sounds', 'Tram bell');
    await page.route(`**/api/sounds/${bell}/audio`, (route) =>
      route.fulfill({
        status: 404,
        contentType: 'application/problem+json',
        body: '{"detail":"The audio of “Tram bell” is missing on disk."}',
      }),
    );
    await openBench(page, await idOf(page, 'chains', 'Copper Dome'), await idOf(page, 'sounds', 'Wind harp'));
    await page.getByRole('button', { name: 'Loop the region' }).click();
    await play(page);
    await page.getByRole('button', { name: /^shelf:/ }).click();
    await page.getByRole('menuitem', { name: 'Tram bell', exact: true }).click();
    await expect(page.getByText('is missing on disk').first()).toBeVisible();
    await page.getByRole('button', { name: /^shelf:/ }).click();
    await page.getByRole('menuitem', { name: 'Foghorn', exact: true }).click();
    await cascadeCurrent(page);
    await expect(page.getByTestId('play-line')).toBeVisible();
  });
});
