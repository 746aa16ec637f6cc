import { expect, test, type Page } from '@playwright/test';
import { addStage, cascadeCurrent, expectAccessible, watchFaults } from './page.ts';

interface Named {
  readonly id: string;
  readonly name: string;
}

/** An empty chain on a sound of the museum. */
async function emptyBench(page: Page, sound: string): Promise<void> {
  await page.goto('/library');
  await page.getByRole('combobox', { name: 'Sound to open with' }).selectOption({ label: sound });
  await page.getByRole('button', { name: 'New chain', exact: true }).click();
  await page.waitForURL(/\/bench\//);
  await cascadeCurrent(page);
}

const slider = (page: Page, name: string) => page.getByRole('slider', { name, exact: true });
const typed = (page: Page, label: string) => page.getByRole('textbox', { name: `${label}, value` });

test('the reference finds, explains, draws and plays a stage', async ({ page }) => {
  const faults = watchFaults(page);
  await page.goto('/reference');
  await page.getByRole('textbox', { name: 'Find a stage or a parameter' }).fill('slow down');
  await page.getByRole('link', { name: 'Tape stop' }).click();
  await expect(page).toHaveURL(/\/reference\/tapeStop\?find=slow\+down$/);
  await expect(page.getByRole('heading', { name: 'Tape stop' })).toBeVisible();
  await expect(page.locator('[data-picture=curves] polyline').first()).toBeVisible();
  await expect(
    page.getByText('the integral of the speed, within 1 sample. Measured by what is heard of a ramp.'),
  ).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Listen' }).click();
  await expect(page.getByText(/^playing /)).toBeVisible({ timeout: 15_000 });
  await page.getByRole('button', { name: 'Stop' }).click();
  await expect(page.getByText(/^playing /)).toBeHidden();
  expect(faults).toEqual([]);
});

test('an echo takes stages into its loop, and its picture shows what they do to the repeats', async ({ page }) => {
  await emptyBench(page, 'Harbour announcer');
  await addStage(page, 'dub');
  const picture = page.locator('[data-picture=repeats]');
  await expect(picture).toBeVisible();
  await expect(picture.getByText('−5')).toHaveCount(0);
  await page.getByRole('button', { name: 'add stage in Loop' }).click();
  await page.getByRole('combobox', { name: 'What should happen to the sound?' }).fill('deep voice');
  await page.keyboard.press('Enter');
  await cascadeCurrent(page);
  await expect(page.locator('[data-branches] [data-row="Pitch shift"]')).toBeVisible();
  await page.locator('[data-row=Delay]').first().click();
  await expect(picture.getByText('−5', { exact: true }).first()).toBeVisible();
  await expect(picture.getByText('−10', { exact: true }).first()).toBeVisible();
  await expectAccessible(page);
});

test('a room is drawn larger by its corner and its source moved, by hand and by keys', async ({ page }) => {
  await emptyBench(page, 'Telegraph clicks');
  await addStage(page, 'shoebox');
  await cascadeCurrent(page);
  await expect(typed(page, 'length')).toHaveValue('7 m');
  const corner = slider(page, 'front right corner');
  const box = (await corner.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 - 30, box.y + box.height / 2 - 20, { steps: 4 });
  await page.mouse.up();
  await expect.poll(async () => parseFloat(await typed(page, 'length').inputValue())).toBeLessThan(6);
  const length = parseFloat(await typed(page, 'length').inputValue());
  await corner.press('ArrowRight');
  await expect.poll(async () => parseFloat(await typed(page, 'length').inputValue())).toBeCloseTo(length + 0.1, 1);
  await slider(page, 'source').last().press('Shift+ArrowLeft');
  await expect(typed(page, 'source front–back')).toHaveValue('65 %');
  // However fast the keys come, each counts; from the side it gets higher.
  for (let n = 0; n < 8; n++) await page.keyboard.press('ArrowLeft');
  await expect(typed(page, 'source front–back')).toHaveValue('57 %');
  const high = page.getByRole('textbox', { name: 'height, value', exact: true });
  const height = parseFloat(await high.inputValue());
  await slider(page, 'front upper corner, from the side').press('Shift+ArrowUp');
  await expect.poll(async () => parseFloat(await high.inputValue())).toBeCloseTo(height + 1, 1);
  // A menu gives the focus back to the row that it was opened from.
  const more = page.getByRole('button', { name: 'More for height', exact: true });
  await more.click();
  await page.keyboard.press('Escape');
  await expect(more).toBeFocused();
  await cascadeCurrent(page);
});

test('a band of the equaliser is dragged in its picture', async ({ page }) => {
  await emptyBench(page, 'Boiler-room drums');
  await addStage(page, 'treble');
  await cascadeCurrent(page);
  const band = slider(page, 'band 4').last();
  for (let n = 0; n < 5; n++) await band.press('Shift+ArrowUp');
  const gain = page.getByRole('textbox', { name: 'band 4 gain, value' });
  await expect.poll(async () => parseFloat(await gain.inputValue())).toBeGreaterThan(10);
  const peak = await page.getByTestId('measures').innerText();
  await cascadeCurrent(page);
  await page.getByRole('button', { name: /Undo/ }).click();
  await expect.poll(async () => parseFloat(await gain.inputValue())).toBeLessThan(10);
  expect(peak).toContain('dB');
});

test('what a stage does while it plays is a button, and a key', async ({ page }) => {
  await emptyBench(page, 'Boiler-room drums');
  await addStage(page, 'tape stop');
  await cascadeCurrent(page);
  const button = page.getByRole('button', { name: /^stop: / });
  await expect(button).toHaveText('spin up');
  await page.keyboard.press('a');
  await expect(button).toHaveText('stop');
  await expect(page.getByRole('button', { name: 'Undo: spin up' })).toBeVisible();
  await button.click();
  await expect(button).toHaveText('spin up');
  await expectAccessible(page);
});

test('a stage that needs a sound says so on its row until it has one', async ({ page }) => {
  await emptyBench(page, 'Boiler-room drums');
  await addStage(page, 'impulse response');
  const row = page.locator('[data-row="Convolution reverb"]');
  await expect(row.locator('[data-fault]')).toHaveText('no impulse response chosen: passes the dry signal');
  await page.getByRole('combobox', { name: 'impulse response' }).selectOption({ label: 'Tram bell' });
  await expect(row.locator('[data-fault]')).toHaveCount(0);
  await cascadeCurrent(page);
});

test('an earlier branch leads a ducker beside it', async ({ page }) => {
  await emptyBench(page, 'Boiler-room drums');
  await addStage(page, 'parallel');
  await page.getByRole('button', { name: 'add stage in Branch 2' }).click();
  await page.getByRole('combobox', { name: 'What should happen to the sound?' }).fill('make room');
  await page.keyboard.press('Enter');
  const side = page.getByRole('combobox', { name: 'sidechain' });
  await side.selectOption({ label: 'branch Branch 1' });
  await cascadeCurrent(page);
  await expect(side).toHaveValue(/^branch /);
  await expect(page.locator('[data-fault]')).toHaveCount(0);
});

test('every preset of the museum opens without a fault and has a row for each stage', async ({ page }) => {
  test.setTimeout(120_000);
  const faults = watchFaults(page);
  const chains = (await (await page.request.get('/api/chains?limit=500')).json()) as (Named & { stages: string[] })[];
  const sounds = (await (await page.request.get('/api/sounds?limit=500')).json()) as Named[];
  const clicks = sounds.find(({ name }) => name === 'Telegraph clicks')!.id;
  // Ids rise with time: the museum's came first, before what other tests have made.
  const museum = chains.sort((a, b) => (a.id < b.id ? -1 : 1)).slice(0, 35);
  expect(museum.map(({ name }) => name)).toContain('Tide Turning');
  for (const { id, name, stages } of museum.filter((_, n) => n % 6 === 0)) {
    await page.goto(`/bench/${id}?sound=${clicks}`);
    await cascadeCurrent(page);
    for (const stage of stages) await expect(page.locator(`[data-row="${stage}"]`).first(), name).toBeVisible();
    await expect(page.locator('[data-fault]')).toHaveCount(0);
  }
  expect(faults).toEqual([]);
});

test('a picture moves with what plays: by itself, and by what is modulated; stopped it is as it is set', async ({
  page,
}) => {
  const faults = watchFaults(page);
  const lines = () =>
    page
      .locator('[data-picture] svg')
      .evaluate((svg) => [...svg.querySelectorAll('polyline, rect')].map((line) => line.outerHTML).join());
  for (const [words, modulated] of [
    ['flanger', undefined],
    ['dull', 'cutoff'],
    ['echo', 'feedback'],
  ] as const) {
    await emptyBench(page, 'Wind harp');
    await addStage(page, words);
    await cascadeCurrent(page);
    if (modulated !== undefined) {
      await page.getByRole('slider', { name: modulated, exact: true }).last().focus();
      await page.keyboard.press('m');
      await cascadeCurrent(page);
    }
    await expect(page.locator('[data-picture] svg')).toBeVisible();
    const set = await lines();
    await page.getByRole('button', { name: 'Play the render', exact: true }).click();
    const seen = new Set<string>();
    await expect
      .poll(async () => seen.add(await lines()).size, { intervals: [150], message: words })
      .toBeGreaterThan(4);
    await page.getByRole('button', { name: 'Stop', exact: true }).click();
    await expect.poll(lines, words).toBe(set);
  }
  expect(faults).toEqual([]);
});
