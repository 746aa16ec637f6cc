import { createHash } from 'node:crypto';
import { expect, test, type APIRequestContext } from '@playwright/test';
import { addStage, cascadeCurrent, dropFile, expectAccessible, watchFaults } from './page.ts';
import { readWav } from './sounds.ts';

interface Entry {
  readonly id: string;
  readonly name: string;
}
const idOf = async (request: APIRequestContext, kind: 'chains' | 'sounds', name: string) =>
  ((await (await request.get(`/api/${kind}`)).json()) as Entry[]).find((entry) => entry.name === name)?.id ?? '';

test('page and server render every demo chain to the same bytes', async ({ page, request }) => {
  await page.goto('/');
  const sound = await idOf(request, 'sounds', 'Boiler-room drums');
  for (const name of ['Tide Turning', 'Storm Glass', 'Copper Dome']) {
    const chainId = await idOf(request, 'chains', name);
    const { document } = (await (await request.get(`/api/chains/${chainId}`)).json()) as { document: unknown };
    // What the page plays is taken at its last station: the buffer given to the audio hardware.
    await page.addInitScript(() => {
      const seen = window as unknown as { played: Float32Array[] };
      const copy = AudioBuffer.prototype.copyToChannel;
      AudioBuffer.prototype.copyToChannel = function (samples, channel, ...rest) {
        (seen.played ??= [])[channel] = Float32Array.from(samples);
        copy.call(this, samples, channel, ...rest);
      };
    });
    await page.goto(`/bench/${chainId}?sound=${sound}`);
    await cascadeCurrent(page);
    await page.getByRole('button', { name: 'Play the render', exact: true }).click();
    await expect(page.getByTestId('play-line')).toBeVisible();
    const played = await page.evaluate(async () => {
      const channels = (window as unknown as { played: Float32Array<ArrayBuffer>[] }).played;
      const bytes = new Float32Array(channels.length * channels[0].length);
      channels.forEach((samples, c) => samples.forEach((sample, i) => (bytes[i * channels.length + c] = sample)));
      const digest = new Uint8Array(await crypto.subtle.digest('SHA-256', bytes));
      return [...digest].map((byte) => byte.toString(16).padStart(2, '0')).join('');
    });
    const { id } = (await (
      await request.post('/api/renders', { data: { sourceId: sound, chainId, document } })
    ).json()) as Entry;
    const render = async () =>
      (await (await request.get(`/api/renders/${id}`)).json()) as { status: string; soundId: string };
    await expect.poll(async () => (await render()).status, { timeout: 30_000 }).toBe('done');
    const file = await (await request.get(`/api/sounds/${(await render()).soundId}/audio`)).body();
    expect(played, name).toBe(createHash('sha256').update(readWav(file).data).digest('hex'));
  }
});

test('two windows on one chain: the second is told, and neither loses its work', async ({ context, request }) => {
  const chainId = await idOf(request, 'chains', 'Copper Dome');
  const [one, two] = [await context.newPage(), await context.newPage()];
  for (const page of [one, two]) await page.goto(`/bench/${chainId}`);
  const set = async (page: typeof one, text: string) => {
    const decay = page.getByRole('textbox', { name: 'decay, value', exact: true });
    await decay.fill(text);
    await decay.press('Enter');
  };
  await set(one, '1.5 s');
  await expect(one.getByText('draft kept')).toBeVisible();
  await set(two, '4.5 s');
  await expect(two.getByRole('alertdialog')).toContainText('changed in another window');
  await expectAccessible(two);
  await two.getByRole('button', { name: 'Put mine on top' }).click();
  await expect(two.getByRole('alertdialog')).toBeHidden();
  await expect(two.getByText('draft kept')).toBeVisible();
  const state = (await (await request.get(`/api/chains/${chainId}`)).json()) as {
    document: { stages: { settings: { decay: number } }[] };
    versions: { number: number; why: string }[];
  };
  expect(state.document.stages[0].settings.decay).toBe(4.5);
  expect(state.versions[0].why).toBe('Kept from another window');
  const theirs = (await (
    await request.get(`/api/chains/${chainId}/versions/${state.versions[0].number}`)
  ).json()) as typeof state.document;
  expect(theirs.stages[0].settings.decay).toBe(1.5);

  await set(one, '2.5 s');
  await one.getByRole('button', { name: 'Keep mine as a chain of its own' }).click();
  await expect(one.getByText('Both are kept')).toBeVisible();
  await expect(one.getByRole('textbox', { name: 'Name of the chain' })).toHaveValue('Copper Dome (mine)');
  await expect(one.getByRole('textbox', { name: 'decay, value', exact: true })).toHaveValue('2.5 s');
});

test('what is no sound is refused on the page in words, and nothing breaks', async ({ page, request }) => {
  const faults = watchFaults(page);
  await page.goto('/');
  const count = async () => ((await (await request.get('/api/sounds')).json()) as Entry[]).length;
  await expect(page.getByText('Foghorn')).toBeVisible();
  const before = await count();
  await dropFile(page, 'letter.wav', Buffer.from('Dear harbour master'));
  await expect(page.getByText('letter.wav was not taken')).toBeVisible();
  await expect(page.getByText('it begins with "Dear"')).toBeVisible();
  expect(await count()).toBe(before);
  await page.goto('/library');
  await page.getByLabel('Chain file', { exact: true }).setInputFiles({
    name: 'odd.hxk.json',
    mimeType: 'application/json',
    buffer: Buffer.from('{"format":"hexenkessel.chain","version":1,"name":"x","stages":[{"id":"a","kind":"wobble"}]}'),
  });
  await expect(page.getByText('there is no stage of kind "wobble"')).toBeVisible();
  expect(faults).toEqual([]);
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
  const cost = (row: string) => page.locator(`[data-row="${row}"]`).getByText(/dB/).first();
  await page.getByRole('button', { name: 'Show the settings of Hall' }).click();
  await page.getByRole('textbox', { name: 'decay, value', exact: true }).fill('3 s');
  await page.getByRole('textbox', { name: 'decay, value', exact: true }).press('Enter');
  await cascadeCurrent(page);
  await expect(cost('Hall')).toContainText('ms');
  await page.getByRole('button', { name: 'Show the settings of Gain' }).click();
  await page.getByRole('textbox', { name: 'gain, value', exact: true }).fill('-3 dB');
  await page.getByRole('textbox', { name: 'gain, value', exact: true }).press('Enter');
  await cascadeCurrent(page);
  // A row that came from the cache has cost nothing and says no time.
  await expect(cost('Hall')).not.toContainText('ms');
  await expect(cost('Filter')).not.toContainText('ms');

  // While a long render runs, frames keep coming.
  await page.getByRole('button', { name: 'Show the settings of Hall' }).click();
  await page.getByRole('textbox', { name: 'decay, value', exact: true }).fill('40 s');
  await page.getByRole('textbox', { name: 'decay, value', exact: true }).press('Enter');
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
