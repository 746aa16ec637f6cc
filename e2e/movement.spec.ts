/** Panel, movement, lanes, tempo and variation: as a designer defines how a chain behaves. */
import { expect, test, type Page } from '@playwright/test';
import {
  addStage,
  audioOf,
  cascadeCurrent,
  expectAccessible,
  idOf,
  openEmpty,
  renderHere,
  watchFaults,
} from './page.ts';
import { readWav, steadyTone } from './sounds.ts';

const STEADY = 'Steady tone';

test.beforeAll(async ({ request }) => {
  const taken = await request.post(`/api/sounds?name=${encodeURIComponent(STEADY)}`, { data: steadyTone() });
  expect(taken.status()).toBe(201);
});

/** Highest sample of a render around a time, in dB against the same place of the source. */
async function gainAt(page: Page, rendered: Buffer, seconds: number): Promise<number> {
  const source = readWav(await audioOf(page, await idOf(page, 'sounds', STEADY)));
  const peak = (size: Float64Array, rate: number) => {
    const at = Math.round(seconds * rate);
    return size.subarray(at - 60, at + 60).reduce((most, value) => Math.max(most, value), 0);
  };
  const after = readWav(rendered);
  return 20 * Math.log10(peak(after.size, after.rate) / peak(source.size, source.rate));
}

async function typed(page: Page, name: string, text: string): Promise<void> {
  const field = page.getByRole('textbox', { name, exact: true });
  await field.fill(text);
  await field.press('Enter');
}

async function tab(page: Page, name: string): Promise<void> {
  await page.getByRole('tab', { name }).click();
}

/** Drags a parameter by its name onto a place of the panel. */
async function dragOnto(page: Page, parameter: string, place: string): Promise<void> {
  const from = (await page.locator(`[data-row-of="${parameter}"]`).getByText(/./).first().boundingBox())!;
  await page.mouse.move(from.x + 10, from.y + from.height / 2);
  await page.mouse.down();
  await page.mouse.move(from.x - 30, from.y + 40, { steps: 4 });
  const to = (await page.locator(`[data-pin-place=${place}]`).boundingBox())!;
  await page.mouse.move(to.x + to.width / 2, to.y + to.height / 2, { steps: 6 });
  await page.mouse.up();
}

test('parameters are dragged onto the panel; a range that is narrowed moves nothing, or says so', async ({ page }) => {
  const faults = watchFaults(page);
  await openEmpty(page, 'Dragged', STEADY);
  await addStage(page, 'muffled');
  // Its picture comes above the rows; until then they are on their way down.
  await expect(page.locator('[data-picture]')).toBeVisible();
  await expect(page.getByTestId('panel-strip')).toHaveCount(0);
  await dragOnto(page, 'cutoff', 'new');
  const strip = page.getByTestId('panel-strip');
  await expect(strip.getByRole('slider', { name: 'Cutoff', exact: true })).toBeVisible();
  await dragOnto(page, 'resonance', 'control');
  await expect(page.getByTestId('used-range')).toHaveCount(2);
  await dragOnto(page, 'drive', 'new');
  await expect(strip.getByRole('slider')).toHaveCount(2);
  const cutoff = page.getByRole('textbox', { name: 'cutoff, value', exact: true });
  const before = await cutoff.inputValue();
  // The control drives two: the other end of its range moves the cutoff, which is said.
  await tab(page, 'Panel');
  await page.getByRole('button', { name: 'How Cutoff is made' }).click();
  await typed(page, 'Cutoff: cutoff from', '5 kHz');
  await expect(page.getByText(new RegExp(`Filter, cutoff: .*, was ${before}`))).toBeVisible();
  await page.keyboard.press('Control+z');
  // Other numbers on its scale move nothing.
  await typed(page, 'Cutoff: max', '10');
  await expect(strip.getByRole('slider', { name: 'Cutoff', exact: true })).toHaveAttribute('aria-valuemax', '10');
  await page.getByRole('textbox', { name: 'Control: name' }).fill('Drive');
  await expect(page.getByText('Another control is called Drive, too')).toBeVisible();
  await expectAccessible(page);
  // Keys: to the rows, over the heads, to the panel and back to a tab.
  await page.getByRole('textbox', { name: 'Drive: max' }).press('Enter');
  await page.keyboard.press('j');
  await expect(cutoff).toHaveValue(before);
  await page.keyboard.press('Alt+ArrowDown');
  await page.keyboard.press('Alt+ArrowDown');
  await expect(page.locator('[data-row-of=cutoff] [role=slider]')).toBeFocused();
  await page.keyboard.press('g');
  await expect(strip.getByRole('slider').first()).toBeFocused();
  await page.keyboard.press('6');
  await expect(page.getByRole('tab', { name: 'Render' })).toHaveAttribute('aria-selected', 'true');
  expect(faults).toEqual([]);
});

test('a row is pinned, the panel plays it, its range is seen on the row, and what lies outside is refused', async ({
  page,
}) => {
  const faults = watchFaults(page);
  await openEmpty(page, 'Panelled', STEADY);
  await addStage(page, 'louder');
  await cascadeCurrent(page);
  await page.getByRole('slider', { name: 'gain', exact: true }).focus();
  await page.keyboard.press('p');
  const strip = page.getByTestId('panel-strip');
  await expect(strip.getByRole('slider', { name: 'Gain', exact: true })).toBeVisible();
  await expect(page.getByTestId('used-range')).toBeVisible();
  await tab(page, 'Panel');
  await page.getByRole('button', { name: 'How Gain is made' }).click();
  await typed(page, 'Gain: gain from', '-30 dB');
  await typed(page, 'Gain: gain to', '0 dB');
  await typed(page, 'Gain: words', 'near, some way off, far');
  await typed(page, 'Gain: curve of gain', '0');
  await page.getByRole('textbox', { name: 'Control: name' }).fill('Distance');
  await expectAccessible(page);
  const control = strip.getByRole('textbox', { name: 'Distance, value' });
  await control.fill('near');
  await control.press('Enter');
  await tab(page, 'Stage');
  await expect(page.getByRole('textbox', { name: 'gain, value' })).toHaveValue('−30 dB');
  // The row turns the control, as far as that reaches.
  await typed(page, 'gain, value', '-15 dB');
  await expect(control).toHaveValue('some way off');
  await typed(page, 'gain, value', '6 dB');
  await expect(
    page.getByText(/is driven by the control "Distance" from −30 dB to 0 dB; 6 dB lies outside/),
  ).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('textbox', { name: 'gain, value' })).toHaveValue('−15 dB');
  await cascadeCurrent(page);
  await tab(page, 'Render');
  const rendered = await audioOf(page, await renderHere(page, 'Render'));
  expect(await gainAt(page, rendered, 0.5)).toBeCloseTo(-15, 1);
  await page.keyboard.press('Control+z');
  await expect(control).toHaveValue('near');
  expect(faults).toEqual([]);
});

test('a modulator is added from a row, deepened on its scale, listed, searched, and heard in the render', async ({
  page,
}) => {
  const faults = watchFaults(page);
  await openEmpty(page, 'Moving', STEADY);
  await addStage(page, 'louder');
  await cascadeCurrent(page);
  await page.getByRole('slider', { name: 'gain', exact: true }).focus();
  await page.keyboard.press('m');
  const depth = page.getByRole('slider', { name: 'Depth of LFO' });
  await expect(depth).toHaveAttribute('aria-valuenow', '25');
  await depth.focus();
  await page.keyboard.press('PageDown');
  await page.keyboard.press('PageDown');
  await expect(depth).toHaveAttribute('aria-valuenow', '5');
  await expect(page.getByTestId('movement-rows').getByRole('img', { name: 'LFO over the sound' })).toBeVisible();
  await tab(page, 'Modulation');
  await typed(page, 'rate, value', '1 Hz');
  await page.getByRole('combobox', { name: 'waveform' }).selectOption('triangle');
  const routes = page.locator('[data-route]');
  await expect(routes).toHaveCount(1);
  await page.getByRole('textbox', { name: 'Find routes' }).fill('cutoff');
  await expect(routes).toHaveCount(0);
  await page.getByRole('textbox', { name: 'Find routes' }).fill('lfo gain');
  await expect(routes).toHaveCount(1);
  await expectAccessible(page);
  await cascadeCurrent(page);
  // The moving position is seen while it plays.
  await tab(page, 'Stage');
  await page.getByRole('button', { name: 'Play the render' }).click();
  await expect(page.getByTestId('moving-position')).toBeVisible();
  await page.getByRole('button', { name: 'Stop', exact: true }).click();
  await tab(page, 'Render');
  const rendered = await audioOf(page, await renderHere(page, 'Render'));
  // A twentieth of a scale of 132 dB, up at a quarter of the turn and down at three.
  expect(await gainAt(page, rendered, 0.25)).toBeCloseTo(6.6, 0);
  expect(await gainAt(page, rendered, 0.75)).toBeCloseTo(-6.6, 0);
  expect(await gainAt(page, rendered, 0.5)).toBeCloseTo(0, 0);
  expect(faults).toEqual([]);
});

test('a lane is drawn, stamped, taken from a file, copied, and rendered as it is drawn', async ({ page }) => {
  const faults = watchFaults(page);
  await openEmpty(page, 'Drawn', STEADY);
  await addStage(page, 'louder');
  await cascadeCurrent(page);
  await page.getByRole('slider', { name: 'gain', exact: true }).focus();
  await page.keyboard.press('o');
  const lane = page.locator('[data-lane="gain.gain"]');
  await expect(lane.getByRole('slider', { name: 'Breakpoint 2' })).toBeVisible();
  await lane.getByRole('button', { name: 'Lane tools' }).click();
  await page.getByLabel('Lane from a file').setInputFiles({
    name: 'gain.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('target,over,at,value,bend\ngain.gain,seconds,0.2,-24,0\ngain.gain,seconds,0.8,0,0\n'),
  });
  await expect(lane.getByRole('slider', { name: 'Breakpoint 1' })).toHaveAttribute('aria-valuetext', '0.2 s, −24 dB');
  await expectAccessible(page);
  await cascadeCurrent(page);
  await tab(page, 'Render');
  const rendered = await audioOf(page, await renderHere(page, 'Render'));
  expect(await gainAt(page, rendered, 0.1)).toBeCloseTo(-24, 1);
  expect(await gainAt(page, rendered, 0.5)).toBeCloseTo(-12, 1);
  expect(await gainAt(page, rendered, 0.9)).toBeCloseTo(0, 1);

  await typed(page, 'Lane: range from', '1/2 beat');
  await typed(page, 'Lane: range to', '0.75 s');
  await expect(lane.getByRole('button', { name: /^Insert shape 0\.25 s – 0\.75 s/ })).toBeVisible();
  await typed(page, 'Lane: range to', '4 bars');
  await expect(page.getByText('4 bars lies outside the lane')).toBeVisible();
  await page.keyboard.press('Escape');

  await page.getByLabel('Lane from a file').setInputFiles({
    name: 'wrong.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('target,over,at,value\ngain.gain,seconds,0,99\n'),
  });
  await expect(page.getByText(/a breakpoint has the value 99; allowed is −96 dB to 36 dB/)).toBeVisible();
  await lane.getByRole('button', { name: 'copy', exact: true }).click();
  await tab(page, 'Stage');
  await page.getByRole('slider', { name: 'output level', exact: true }).focus();
  await page.keyboard.press('o');
  const other = page.locator('[data-lane="gain.level"]');
  await other.getByRole('button', { name: 'Lane tools' }).click();
  await other.getByRole('button', { name: 'paste' }).click();
  await expect(other.getByRole('slider', { name: 'Breakpoint 2' })).toHaveAttribute('aria-valuetext', /^40 %/);
  await page.keyboard.press('Control+z');
  await expect(other.getByRole('slider', { name: 'Breakpoint 2' })).toHaveAttribute('aria-valuetext', /^100 %/);
  expect(faults).toEqual([]);
});

test('the tempo is found in a sound and kept with it; the chain goes by it, and says what another one would do', async ({
  page,
}) => {
  const faults = watchFaults(page);
  await openEmpty(page, 'In time', 'Boiler-room drums');
  await addStage(page, 'echo');
  await cascadeCurrent(page);
  // By one key into beats, and back.
  const time = page.getByRole('textbox', { name: 'delay time, value', exact: true });
  await time.fill('300 ms');
  await time.press('Enter');
  await page.getByRole('slider', { name: 'delay time', exact: true }).focus();
  await page.keyboard.press('t');
  await expect(time).toHaveValue(/^1\/\d+[dt]?$/);
  await tab(page, 'Tempo');
  await page.getByRole('button', { name: 'detect' }).click();
  await page.getByRole('button', { name: '93 bpm', exact: true }).click();
  await expect(page.getByRole('textbox', { name: 'Tempo of the sound' })).toHaveValue('93 bpm');
  await page.getByRole('combobox', { name: 'Tempo source' }).selectOption('sound');
  await expect(page.getByText(/would follow/)).toBeVisible();
  await typed(page, 'Another tempo', '60');
  await expect(page.getByRole('row', { name: /Delay, delay time 1/ })).toContainText(/1\/\d/);
  await typed(page, 'Another tempo', '10');
  await expect(page.getByText(/10 bpm is out of range; allowed is 20 to 400/)).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('link', { name: 'Every note value at this tempo' }).click();
  await typed(page, 'Tempo of the table', '120');
  await expect(page.getByRole('row', { name: /^1\/8d/ })).toContainText('375.00');
  await expectAccessible(page);
  expect(faults).toEqual([]);
});

test('settings are drawn at random, heard, taken and undone; a morph lies between two slots', async ({ page }) => {
  const faults = watchFaults(page);
  await openEmpty(page, 'Varied', STEADY);
  await addStage(page, 'louder');
  await addStage(page, 'muffled');
  await cascadeCurrent(page);
  const cutoff = page.getByRole('textbox', { name: 'cutoff, value', exact: true });
  const before = await cutoff.inputValue();
  await page.getByRole('slider', { name: 'resonance (Q)', exact: true }).focus();
  await page.keyboard.press('k');
  const resonance = await page.getByRole('textbox', { name: 'resonance (Q), value' }).inputValue();
  await tab(page, 'Variations');
  await page.getByRole('button', { name: /^Audition variation 3\b/ }).click();
  await expect(page.getByText('You hear and see variation 3 of seed 1.')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Apply' }).click();
  await tab(page, 'Stage');
  await expect(cutoff).not.toHaveValue(before);
  await expect(page.getByRole('textbox', { name: 'resonance (Q), value' })).toHaveValue(resonance);
  await page.keyboard.press('Control+z');
  await expect(cutoff).toHaveValue(before);

  await cutoff.fill('1 kHz');
  await cutoff.press('Enter');
  await page.getByRole('button', { name: /^Slot B/ }).click();
  await cutoff.fill('4 kHz');
  await cutoff.press('Enter');
  await tab(page, 'Variations');
  await page.getByRole('slider', { name: 'Morph amount' }).focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowLeft');
  await expect(page.getByText(/You hear and see 50 % of the way/)).toBeVisible();
  await page.getByRole('button', { name: 'Apply' }).click();
  await tab(page, 'Stage');
  await expect(cutoff).toHaveValue('2 kHz');
  expect(faults).toEqual([]);
});

test('at 1280 × 800 each tab keeps to its place, with all that it can show, and says what it is to everyone', async ({
  page,
}) => {
  const sound = await idOf(page, 'sounds', 'Boiler-room drums');
  await page.goto(`/bench/${await idOf(page, 'chains', 'Lighthouse')}?sound=${sound}`);
  await cascadeCurrent(page);
  const tab = (name: string) => page.getByRole('tab', { name }).click();
  await tab('Render');
  await page.getByRole('combobox', { name: 'Range' }).selectOption('region');
  await tab('Panel');
  await page.getByRole('tabpanel').getByRole('button', { name: 'How Distance is made' }).click();
  for (const name of ['Stage', 'Panel', 'Modulation', 'Tempo', 'Variations', 'Render', 'About']) {
    await tab(name);
    const over = await page
      .getByRole('tabpanel')
      .evaluate(({ scrollHeight, clientHeight }) => scrollHeight - clientHeight);
    expect(over, name).toBeLessThanOrEqual(1);
    await expectAccessible(page);
  }
  await tab('Render');
  const button = await page.getByRole('button', { name: 'Render and splice' }).boundingBox();
  const strip = await page.getByRole('tabpanel').boundingBox();
  expect(button!.y + button!.height).toBeLessThanOrEqual(strip!.y + strip!.height);
});

test('in a narrow window the rows are a drawer that opens for what is chosen', async ({ page }) => {
  await page.setViewportSize({ width: 1024, height: 768 });
  const sound = await idOf(page, 'sounds', 'Boiler-room drums');
  await page.goto(`/bench/${await idOf(page, 'chains', 'Lighthouse')}?sound=${sound}`);
  await cascadeCurrent(page);
  await expect(page.getByRole('tabpanel')).toBeHidden();
  await page.getByRole('button', { name: 'show the parameters of Tower' }).click();
  await expect(page.getByRole('tabpanel').getByText('Puts the sound into a large, smooth hall.')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('slider', { name: 'size', exact: true }).press('Escape');
  await expect(page.getByRole('tabpanel')).toBeHidden();
  await page.keyboard.press('r');
  await expect(page.getByRole('tabpanel')).toBeVisible();
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBe(1024);
});

test('every key is in one overview, and the overview has a key', async ({ page }) => {
  await openEmpty(page, 'Keys', STEADY);
  await page.locator('body').press('Shift+?');
  const keys = page.getByRole('dialog', { name: 'Keyboard shortcuts' });
  for (const text of ['play the render, or stop', 'pin to the panel, or unpin', 'back to the default'])
    await expect(keys.getByText(text)).toBeVisible();
  await expectAccessible(page);
  await page.keyboard.press('Escape');
  await expect(keys).toBeHidden();
  await page.getByRole('button', { name: 'shortcuts' }).click();
  await expect(keys).toBeVisible();
});

test('news of a render that overtakes an older list is not taken back by it', async ({ page }) => {
  const late: string[] = [];
  let held = false;
  await page.route(/\/api\/renders(\?|$)/, async (route) => {
    if (route.request().method() !== 'GET') return route.continue();
    const response = await route.fetch();
    const [newest] = (await response.json()) as { status: string }[];
    // A list that knows of nothing but its beginning comes when it is long over.
    if (newest && newest.status !== 'done' && !held) {
      held = true;
      await expect.poll(() => isDone(page, 'Isobar Choir'), { timeout: 30_000 }).toBe(true);
      late.push(newest.status);
    }
    return route.fulfill({ response });
  });
  const sound = await idOf(page, 'sounds', 'Rain on tin');
  await page.goto(`/bench/${await idOf(page, 'chains', 'Isobar Choir')}?sound=${sound}`);
  await cascadeCurrent(page);
  const listening = page.waitForRequest('**/api/renders/events');
  await tab(page, 'Render');
  await listening;
  await page.getByRole('button', { name: 'Render', exact: true }).click();
  await expect.poll(() => late).toHaveLength(1);
  // The late answer has been taken in: the page has drawn since.
  await page.waitForLoadState('networkidle', { timeout: 2000 }).catch(() => undefined);
  await page.evaluate(() => new Promise((resolve) => requestAnimationFrame(() => requestAnimationFrame(resolve))));
  await expect(page.locator('[data-render=done]')).toHaveCount(1);
});

async function isDone(page: Page, chain: string): Promise<boolean> {
  const renders = (await (await page.request.get('/api/renders')).json()) as { chainName: string; status: string }[];
  return renders.some(({ chainName, status }) => chainName === chain && status === 'done');
}
