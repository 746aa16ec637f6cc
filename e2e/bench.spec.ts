import { expect, test, type APIRequestContext } from '@playwright/test';
import { addStage, cascadeCurrent, dropFile, expectAccessible, watchFaults } from './page.ts';
import { badSounds, testSound } from './sounds.ts';

interface Entry {
  readonly id: string;
  readonly name: string;
}
const idOf = async (request: APIRequestContext, kind: 'chains' | 'sounds', name: string) =>
  ((await (await request.get(`/api/${kind}`)).json()) as Entry[]).find((entry) => entry.name === name)?.id ?? '';

test('two windows on one chain: the second is told, and neither loses its work', async ({ context, request }) => {
  const chainId = await idOf(request, 'chains', 'Copper Dome');
  const [one, two] = [await context.newPage(), await context.newPage()];
  for (const page of [one, two]) await page.goto(`/bench/${chainId}`);
  const set = async (page: typeof one, text: string) => {
    const decay = page.getByRole('textbox', { name: 'decay time, value', exact: true });
    await decay.fill(text);
    await decay.press('Enter');
  };
  await set(one, '1.5 s');
  await expect(one.getByText('draft saved')).toBeVisible();
  await set(two, '4.5 s');
  await expect(two.getByRole('alertdialog')).toContainText('changed in another window');
  await expectAccessible(two);
  await two.getByRole('button', { name: 'Put mine on top' }).click();
  await expect(two.getByRole('alertdialog')).toBeHidden();
  await expect(two.getByText('draft saved')).toBeVisible();
  const state = (await (await request.get(`/api/chains/${chainId}`)).json()) as {
    document: { stages: { settings: { decay: number } }[] };
    versions: { number: number; why: string }[];
  };
  expect(state.document.stages[0].settings.decay).toBe(4.5);
  expect(state.versions[0].why).toBe('Saved from another window');
  const theirs = (await (
    await request.get(`/api/chains/${chainId}/versions/${state.versions[0].number}`)
  ).json()) as typeof state.document;
  expect(theirs.stages[0].settings.decay).toBe(1.5);

  await set(one, '2.5 s');
  await one.getByRole('button', { name: 'Keep mine as a chain of its own' }).click();
  await expect(one.getByText('Both are saved')).toBeVisible();
  await expect(one.getByRole('textbox', { name: 'Name of the chain' })).toHaveValue('Copper Dome (mine)');
  await expect(one.getByRole('textbox', { name: 'decay time, value', exact: true })).toHaveValue('2.5 s');

  // Theirs instead of mine: what differs is said, and undo leads back.
  const three = await context.newPage();
  await three.goto(`/bench/${chainId}`);
  await set(three, '3 s');
  await expect(three.getByText('draft saved')).toBeVisible();
  await set(two, '5 s');
  const row = two.getByRole('alertdialog').getByRole('row', { name: /decay time/ });
  await expect(row).toContainText('5 s');
  await expect(row).toContainText('3 s');
  await two.getByRole('button', { name: 'Take theirs' }).click();
  const decay = two.getByRole('textbox', { name: 'decay time, value', exact: true });
  await expect(decay).toHaveValue('3 s');
  await two.keyboard.press('Control+z');
  await expect(decay).toHaveValue('5 s');
});

test('what is no sound is refused on the page in words, and nothing breaks', async ({ page, request }) => {
  const faults = watchFaults(page);
  await page.goto('/');
  const count = async () => ((await (await request.get('/api/sounds?limit=500')).json()) as Entry[]).length;
  await expect(page.getByText('Foghorn')).toBeVisible();
  const before = await count();
  for (const [name, bytes, message] of badSounds()) {
    await dropFile(page, name, bytes);
    await expect(page.getByText(`${name} was not imported`)).toBeVisible();
    await expect(page.getByText(message).first()).toBeVisible();
    await page.reload();
    await expect(page.getByText('Foghorn')).toBeVisible();
  }
  expect(await count()).toBe(before);
  await page.goto('/library');
  await page.getByLabel('Chain file', { exact: true }).setInputFiles({
    name: 'odd.hxk.json',
    mimeType: 'application/json',
    buffer: Buffer.from('{"format":"hexenkessel.chain","version":1,"name":"x","stages":[{"id":"a","kind":"wobble"}]}'),
  });
  await expect(page.getByText('there is no stage of kind "wobble"')).toBeVisible();
  const large = { format: 'hexenkessel.chain', version: 1, name: 'x', about: { notes: 'x'.repeat(5_000_000) } };
  await page.getByLabel('Chain file', { exact: true }).setInputFiles({
    name: 'large.hxk.json',
    mimeType: 'application/json',
    buffer: Buffer.from(JSON.stringify(large)),
  });
  await expect(page.getByText('large.hxk.json was not imported')).toBeVisible();
  await expect(page.getByText('at most 1048576 (1 MiB)')).toBeVisible();
  expect(faults).toEqual([]);
});

test('a recording that was cut short is taken as far as it goes, and it is said', async ({ page, request }) => {
  await page.goto('/');
  await expect(page.getByText('Foghorn')).toBeVisible();
  await dropFile(page, 'cut short.wav', testSound().subarray(0, 9000));
  await expect(page.getByText('cut short.wav was imported')).toBeVisible();
  await expect(page.getByText(/its data chunk claims \d+ bytes, 8956 are there; these were read/)).toBeVisible();
  const sounds = (await (await request.get('/api/sounds?limit=500')).json()) as (Entry & { frames: number })[];
  const taken = sounds.find(({ name }) => name === 'cut short')!;
  // Two channels of 16 bits.
  expect(taken.frames).toBe(2239);
  expect((await request.delete(`/api/sounds/${taken.id}`)).ok()).toBe(true);
});

test('only the changed stage and those behind it are rendered again; the page stays quick meanwhile', async ({
  page,
  request,
}) => {
  await page.goto('/');
  const sound = await idOf(request, 'sounds', 'Wind harp');
  await page.getByRole('button', { name: 'Begin with Wind harp' }).click();
  await expect(page).toHaveURL(new RegExp(sound));
  await addStage(page, 'church');
  await addStage(page, 'muffled');
  await addStage(page, 'louder');
  await cascadeCurrent(page);
  const cost = (row: string) => page.locator(`[data-row="${row}"] [data-cost]`);
  await page.getByRole('button', { name: 'Show the parameters of Hall reverb' }).click();
  await page.getByRole('textbox', { name: 'decay time, value', exact: true }).fill('3 s');
  await page.getByRole('textbox', { name: 'decay time, value', exact: true }).press('Enter');
  await cascadeCurrent(page);
  await expect(cost('Hall reverb')).toContainText('ms');
  await page.getByRole('button', { name: 'Show the parameters of Gain' }).click();
  await page.getByRole('textbox', { name: 'gain, value', exact: true }).fill('-3 dB');
  await page.getByRole('textbox', { name: 'gain, value', exact: true }).press('Enter');
  await cascadeCurrent(page);
  // A row that came from the cache has cost nothing and says no time.
  await expect(cost('Hall reverb')).not.toContainText('ms');
  await expect(cost('Filter')).not.toContainText('ms');

  // While a long render runs, frames keep coming.
  await page.getByRole('button', { name: 'Show the parameters of Hall reverb' }).click();
  await page.getByRole('textbox', { name: 'decay time, value', exact: true }).fill('40 s');
  await page.getByRole('textbox', { name: 'decay time, value', exact: true }).press('Enter');
  const longestFrame = await page.evaluate(
    () =>
      new Promise<number>((resolve) => {
        const times: number[] = [performance.now()];
        const step = () => {
          times.push(performance.now());
          if (times[times.length - 1] - times[0] > 1500)
            resolve(Math.max(...times.slice(1).map((time, i) => time - times[i])));
          else requestAnimationFrame(step);
        };
        requestAnimationFrame(step);
      }),
  );
  expect(longestFrame).toBeLessThan(500);
});

test('a long render shows its progress and can be given up; what it leaves is said', async ({ page, request }) => {
  const sound = await idOf(request, 'sounds', 'Wind harp');
  const stages = Array.from({ length: 16 }, (_, n) => ({ id: `h${n}`, kind: 'hall', settings: { decay: 30 } }));
  const document = {
    format: 'hexenkessel.chain',
    version: 1,
    name: 'Sixteen halls',
    stages,
    render: { tail: { mode: 'fixed', length: 60 } },
  };
  const { id } = (await (await request.post('/api/chains', { data: { document } })).json()) as Entry;
  await page.goto(`/bench/${id}?sound=${sound}`);
  await page.getByRole('tab', { name: 'Render' }).click();
  await page.getByRole('button', { name: 'Render', exact: true }).click();
  const running = page.locator('[data-render=running]');
  await expect(running).toBeVisible();
  await expect
    .poll(async () => Number(await running.getByRole('progressbar').getAttribute('aria-valuenow')))
    .toBeGreaterThan(0);
  await running.getByRole('button', { name: 'Cancel' }).click();
  await expect(page.locator('[data-render=cancelled]')).toContainText('cancelled');
  expect(
    ((await (await request.get('/api/sounds?limit=500')).json()) as Entry[]).some(({ name }) =>
      name.includes('Sixteen'),
    ),
  ).toBe(false);
});

test('the keyboard alone: add, choose, turn, reorder, undo, play', async ({ page, request }) => {
  const faults = watchFaults(page);
  const sound = await idOf(request, 'sounds', 'Tram bell');
  const document = { format: 'hexenkessel.chain', version: 1, name: 'By hand' };
  const { id } = (await (await request.post('/api/chains', { data: { document } })).json()) as Entry;
  await page.goto(`/bench/${id}?sound=${sound}`);
  await expect(page.getByText('The chain is empty')).toBeVisible();
  for (const words of ['church', 'louder']) {
    await page.keyboard.press('n');
    await expect(page.getByRole('combobox', { name: 'What should happen to the sound?' })).toBeFocused();
    await page.keyboard.type(words);
    await page.keyboard.press('Enter');
    await expect(page.getByRole('dialog')).toBeHidden();
  }
  const order = () =>
    page.locator('[data-stage]').evaluateAll((rows) => rows.map((row) => row.getAttribute('data-stage')));
  expect(await order()).toEqual(['hall', 'gain']);
  const gain = page.getByRole('slider', { name: 'gain' });
  await gain.focus();
  await page.keyboard.press('PageDown');
  await expect.poll(async () => Number(await gain.getAttribute('aria-valuenow'))).toBeLessThan(-10);
  await page.keyboard.press('End');
  await expect(gain).toHaveAttribute('aria-valuenow', '36');
  await page.keyboard.press('Delete');
  await expect(gain).toHaveAttribute('aria-valuenow', '0');
  await expect(gain).toHaveAttribute('aria-valuetext', '0 dB');

  // The handle: lifted by the space bar, carried by the arrows.
  await page.getByRole('button', { name: 'Move Gain', exact: true }).focus();
  // What the list tells to those who do not see it says how far it is.
  const told = page.locator('[id^=DndLiveRegion]').filter({ hasText: /\S/ });
  await page.keyboard.press('Space');
  await expect(told).toContainText('over droppable area gain');
  await page.keyboard.press('ArrowUp');
  await expect(told).toContainText('over droppable area hall');
  await page.keyboard.press('Space');
  await expect.poll(order).toEqual(['gain', 'hall']);
  await page.keyboard.press('Control+z');
  await expect.poll(order).toEqual(['hall', 'gain']);

  await cascadeCurrent(page);
  await page.getByRole('tab', { name: 'Stage' }).focus();
  await page.evaluate(() => (window.document.activeElement as HTMLElement).blur());
  await page.keyboard.press('Space');
  await expect(page.getByTestId('play-line')).toBeVisible();
  await page.keyboard.press('Space');
  await expect(page.getByTestId('play-line')).toBeHidden();
  expect(faults).toEqual([]);
});

test('soot is as readable as paper, on every view', async ({ page, request }) => {
  await page.emulateMedia({ colorScheme: 'dark' });
  const chain = await idOf(request, 'chains', 'Storm Glass');
  for (const path of ['/', '/library', '/sounds', `/bench/${chain}`, `/sheet/${chain}`]) {
    await page.goto(path);
    await page.waitForLoadState('networkidle', { timeout: 3000 }).catch(() => undefined);
    await expectAccessible(page);
  }
});

test('notes are shown as Markdown and nothing in them runs', async ({ page, request }) => {
  const faults = watchFaults(page);
  const notes =
    '**Fog** <script>window.ran = 1</script> <img src=x onerror="window.ran = 2"> [out](javascript:window.ran=3)';
  const document = { format: 'hexenkessel.chain', version: 1, name: 'Notes', about: { notes } };
  const { id } = (await (await request.post('/api/chains', { data: { document } })).json()) as Entry;
  await page.goto(`/sheet/${id}`);
  await expect(page.locator('article strong', { hasText: 'Fog' })).toBeVisible();
  expect(await page.locator('article').locator('script, [onerror], a[href^=javascript]').count()).toBe(0);
  expect(await page.evaluate(() => (window as unknown as { ran?: number }).ran)).toBeUndefined();
  expect(faults).toEqual([]);
});

test('a server that is gone is said, and what was done is kept when it is back', async ({ page, request }) => {
  const chain = await idOf(request, 'chains', 'Storm Glass');
  await page.goto(`/bench/${chain}`);
  await cascadeCurrent(page);
  await page.route('**/api/chains/**', (route) => route.abort());
  const tempo = page.getByRole('textbox', { name: 'Tempo' });
  await tempo.fill('101');
  await tempo.press('Enter');
  await expect(page.getByText('The server does not answer')).toBeVisible();
  await expect(page.getByText('· not saved')).toBeVisible();
  await tempo.fill('102');
  await tempo.press('Enter');
  // It is tried again by itself, and said once only.
  await page.waitForRequest('**/draft');
  await page.waitForRequest('**/draft');
  expect(await page.getByText('The server does not answer').count()).toBeLessThanOrEqual(1);
  await page.unroute('**/api/chains/**');
  await expect(page.getByText('draft saved')).toBeVisible();
  const { document } = (await (await request.get(`/api/chains/${chain}`)).json()) as {
    document: { timing: { tempo: number } };
  };
  expect(document.timing.tempo).toBe(102);
});
