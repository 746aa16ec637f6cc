import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { Acts } from './acts.ts';
import { audioOf, cascadeCurrent, finishedRender, idOf, tickSounds } from './page.ts';
import { crossings, level, readWav, samplesOf, shareOf } from './sounds.ts';

/** Seconds; of a chain that has just been begun. */
const BEAT = 0.5;
const FLOAT = '?depth=32f';
/** Opens a sound's page and begins a chain on it: where each task starts. */
async function beginOn(page: Page, sound: string): Promise<Buffer> {
  const id = await idOf(page, 'sounds', sound);
  await page.goto(`/sounds/${id}`);
  await page.getByRole('button', { name: 'Begin a chain on it' }).click();
  await expect(page.getByRole('button', { name: 'Add a stage' })).toBeVisible();
  return audioOf(page, id, FLOAT);
}

test('a bend over the last half beat of a bass line', async ({ page }) => {
  const task = 'a bend over the last half beat of a bass line';
  const acts = new Acts(page);
  const source = samplesOf(await beginOn(page, 'Pier bass line'));
  const length = source.left.length / source.rate;
  const bars = Math.floor(length / (4 * BEAT));
  await acts.click('Add a stage');
  await acts.search('pitch bend');
  await acts.click('Render', 'tab');
  await acts.choose('Range', 'region');
  await acts.enter(page.getByRole('tabpanel').getByRole('textbox', { name: 'Region end' }), `${bars} bars`);
  await acts.enter(
    page.getByRole('tabpanel').getByRole('textbox', { name: 'Region start' }),
    `${bars - 1} bars 3.5 beats`,
  );
  await acts.click('Render and splice');
  await acts.enter('Name of the new chain', 'Bent end');
  acts.within(task);
  const out = samplesOf(await finishedRender(page, FLOAT));
  const [start, end] = [(4 * bars - 0.5) * BEAT, 4 * bars * BEAT];
  expect(out.left.length).toBe(source.left.length);
  // Outside the region it is the bass line itself.
  const before = Math.round((start - 0.001) * out.rate);
  expect(out.left.subarray(0, before)).toEqual(source.left.subarray(0, before));
  const bent = out.left
    .subarray(before, Math.round(end * out.rate))
    .some((x, i) => Math.abs(x - source.left[before + i]) > 0.02);
  expect(bent).toBe(true);
});

test('a tape stop spliced into a mix', async ({ page }) => {
  const task = 'a tape stop spliced into a mix';
  const acts = new Acts(page);
  const source = samplesOf(await beginOn(page, 'Boiler-room drums'));
  await acts.click('Add a stage');
  await acts.search('tape stop');
  await acts.enter('delay before stop, value', '0');
  await acts.click('Render', 'tab');
  await acts.choose('Range', 'region');
  await acts.enter(page.getByRole('tabpanel').getByRole('textbox', { name: 'Region end' }), '1 bar 3 beats');
  await acts.enter(page.getByRole('tabpanel').getByRole('textbox', { name: 'Region start' }), '1 bar 2 beats');
  await acts.click('Render and splice');
  await acts.enter('Name of the new chain', 'Halt');
  acts.within(task);
  const out = samplesOf(await finishedRender(page, FLOAT));
  expect(out.left.length).toBe(source.left.length);
  // It falls until the region ends, and then goes on as it was.
  expect(crossings(out, 7 * BEAT - 0.12, 7 * BEAT - 0.02)).toBeLessThan(
    0.5 * crossings(source, 7 * BEAT - 0.12, 7 * BEAT - 0.02),
  );
  const before = Math.round((6 * BEAT - 0.001) * out.rate);
  const behind = Math.round((7 * BEAT + 0.02) * out.rate);
  expect(out.left.subarray(0, before)).toEqual(source.left.subarray(0, before));
  expect(out.left.subarray(behind)).toEqual(source.left.subarray(behind));
});

test('the same stop in three stems', async ({ page }) => {
  const stop = { id: 'halt', kind: 'tapeStop', settings: { wait: 0, time: 0.4, after: 'it stays silent' } };
  const document = { format: 'hexenkessel.chain', version: 2, name: 'Halt for stems', stages: [stop] };
  await page.request.post('/api/chains', { data: { document } });
  const stems = ['Boiler-room drums', 'Pier bass line', 'Wind harp'];
  await page.goto('/sounds');
  const acts = new Acts(page);
  for (const stem of stems) {
    acts.count += 1;
    await tickSounds(page, [stem]);
  }
  await acts.click('Render 3');
  const dialog = page.getByRole('dialog');
  await acts.choose('Chain', 'Halt for stems');
  await acts.choose('Range', 'the same region of each');
  await acts.enter(dialog.getByRole('textbox', { name: 'Region end' }), '2 s');
  await acts.enter(dialog.getByRole('textbox', { name: 'Region start' }), '1.5 s');
  await acts.click('Render and hear the first');
  await expect(dialog.getByText('You hear the first')).toBeVisible();
  await acts.click('Render 2');
  acts.within('the same stop in three stems');
  for (const stem of stems) {
    await expect(page.locator(`[data-sound^="${stem} –"]`).first()).toBeVisible({ timeout: 60_000 });
    const made = (await (await page.request.get('/api/sounds?limit=500')).json()) as { id: string; name: string }[];
    const own = samplesOf(await audioOf(page, await idOf(page, 'sounds', stem), FLOAT));
    const out = samplesOf(
      await audioOf(page, made.find(({ name }) => name.startsWith(`${stem} – Halt for stems`))!.id, FLOAT),
    );
    expect(out.left.length, stem).toBe(own.left.length);
    const [first, behind] = [1.49, 2.02].map((seconds) => Math.round(seconds * out.rate));
    expect(out.left.subarray(0, first), stem).toEqual(own.left.subarray(0, first));
    expect(out.left.subarray(behind), stem).toEqual(own.left.subarray(behind));
    expect(level(out, 1.92, 1.98), stem).toBeLessThan(0.001);
  }
});

/** A split whose second branch turns the voice, wets it and turns it again. */
async function reverseSwell(acts: Acts): Promise<void> {
  await acts.click('Add a stage');
  await acts.search('parallel');
  for (const wanted of ['backwards', 'church', 'backwards']) {
    await acts.click('add stage in Branch 2');
    await acts.search(wanted);
  }
  await acts.click('Render', 'tab');
}

test('a reverse swell into the first word, the voice under it', async ({ page }) => {
  const acts = new Acts(page);
  const source = samplesOf(await beginOn(page, 'Harbour announcer'));
  await reverseSwell(acts);
  await acts.click('Render');
  await acts.enter('Name of the new chain', 'Into the word');
  acts.within('a reverse swell into the first word, the voice under it');
  const out = samplesOf(await finishedRender(page, FLOAT));
  expect(out.begins).toBeLessThan(-0.5);
  const zero = -out.begins;
  // It swells up to the first word …
  expect(level(out, zero - 0.2, zero)).toBeGreaterThan(3 * level(out, 0, 0.2));
  // … and the voice is in it: what is left without it is no more like it.
  expect(shareOf(source.left, out.left, Math.round(zero * out.rate))).toBeGreaterThan(0.9);
});

test('a reverse swell into a later word, in its place', async ({ page }) => {
  const acts = new Acts(page);
  const source = samplesOf(await beginOn(page, 'Harbour announcer'));
  await reverseSwell(acts);
  await acts.choose('Range', 'region');
  // The announcer pauses from 1.15 s to 1.53 s.
  const [from, to] = [1.53, 2];
  await acts.enter(page.getByRole('tabpanel').getByRole('textbox', { name: 'Region end' }), `${to} s`);
  await acts.enter(page.getByRole('tabpanel').getByRole('textbox', { name: 'Region start' }), `${from} s`);
  await acts.click('Render and splice');
  await acts.enter('Name of the new chain', 'Into the second word');
  acts.within('a reverse swell into a later word, in its place');
  const out = samplesOf(await finishedRender(page, FLOAT));
  // The swell may begin before the sound does: then the copy does, too.
  const first = Math.round(-out.begins * out.rate);
  expect(out.left.length).toBe(source.left.length + first);
  const at = (seconds: number) => seconds - out.begins;
  expect(level(source, 1.25, 1.5)).toBeLessThan(0.001);
  expect(level(out, at(1.43), at(1.53))).toBeGreaterThan(0.003);
  expect(level(out, at(1.43), at(1.53))).toBeGreaterThan(1.5 * level(out, at(1.2), at(1.3)));
  const spoken = Math.round(1.56 * out.rate);
  const word = source.left.subarray(spoken, Math.round(1.98 * out.rate));
  expect(shareOf(word, out.left, first + spoken)).toBeGreaterThan(0.8);
  const behind = Math.round(3.9 * out.rate);
  expect(out.left.subarray(first + behind)).toEqual(source.left.subarray(behind));
});

test('a falling pulse with loops inside the file', async ({ page }) => {
  const acts = new Acts(page);
  const source = samplesOf(await beginOn(page, 'Rain on tin'));
  await acts.click('Add a stage');
  await acts.search('pitch bend');
  await acts.enter('passes, value', '2');
  await acts.click('Add a stage');
  await acts.search('rumble');
  await acts.click('Render', 'tab');
  await acts.click('Render');
  await acts.enter('Name of the new chain', 'Falling rain');
  await finishedRender(page, FLOAT);
  await acts.click(/^Rain on tin – Falling rain/, 'link');
  await acts.click('Place a sustain loop');
  await acts.click('Place a release loop');
  const download = page.waitForEvent('download');
  await acts.click(/^Download WAV of /, 'link');
  const file = readFileSync(await (await download).path());
  acts.within('a falling pulse with loops inside the file');
  const { data, channels, rate, bits } = readWav(file);
  const frames = data.length / ((channels * bits) / 8);
  const smpl = file.indexOf('smpl') + 8;
  expect(file.readUInt32LE(smpl + 28)).toBe(2);
  const loops = [0, 1].map((n) => [8, 12].map((at) => file.readUInt32LE(smpl + 36 + 24 * n + at)));
  for (const [start, end] of loops) expect(0 < start && start < end && end < frames).toBe(true);
  expect(loops[0][1]).toBeLessThan(loops[1][0]);
  expect(rate).toBe(source.rate);
  const out = samplesOf(await audioOf(page, page.url().split('/').at(-1)!, FLOAT));
  const length = out.left.length / out.rate;
  expect(crossings(out, length - 0.6, length - 0.1)).toBeLessThan(0.7 * crossings(out, 0.1, 0.6));
});

test('three of five sounds baked, the other two later', async ({ page }) => {
  const bell = { id: 'turn', kind: 'reverse' };
  const document = { format: 'hexenkessel.chain', version: 2, name: 'Turned for five', stages: [bell] };
  await page.request.post('/api/chains', { data: { document } });
  const five = ['Tram bell', 'Telegraph clicks', 'Wind harp', 'Rain on tin', 'Foghorn'];
  const acts = new Acts(page);
  for (const some of [five.slice(0, 3), five.slice(3)]) {
    await page.goto('/sounds');
    await expect(page.locator('[data-sound="Foghorn"]')).toBeVisible();
    await tickSounds(page, some);
    acts.count += some.length;
    await acts.click(`Render ${some.length}`);
    await acts.choose('Chain', 'Turned for five');
    acts.count += 1;
    await page
      .getByRole('dialog')
      .getByRole('button', { name: `Render ${some.length}` })
      .click();
    for (const name of some)
      await expect(page.locator(`[data-sound="${name} – Turned for five"]`)).toBeVisible({ timeout: 60_000 });
  }
  acts.within('three of five sounds baked, the other two later');
  for (const name of five) {
    const source = samplesOf(await audioOf(page, await idOf(page, 'sounds', name), FLOAT));
    const turned = samplesOf(await audioOf(page, await idOf(page, 'sounds', `${name} – Turned for five`), FLOAT));
    const first = turned.left.length - source.left.length;
    expect(first, name).toBeGreaterThanOrEqual(0);
    const back = source.left.toReversed();
    expect(shareOf(back, turned.left, 0), name).toBeGreaterThan(0.5);
  }
});

test('a machine voice, kept, used on a second take', async ({ page }) => {
  const task = 'a machine voice, kept, used on a second take';
  await page.goto('/');
  const acts = new Acts(page);
  await acts.click('Library', 'link');
  await acts.click('Open Talking Kettle');
  await cascadeCurrent(page);
  await acts.click(/^shelf: /);
  await acts.click('Crowd of gulls', 'menuitem');
  await cascadeCurrent(page);
  await acts.click('Render', 'tab');
  await acts.click('Render');
  acts.within(task);
  const out = samplesOf(await finishedRender(page, FLOAT));
  const source = samplesOf(await audioOf(page, await idOf(page, 'sounds', 'Crowd of gulls'), FLOAT));
  // Cut off below 180 Hz, where the take has something, and sounding.
  expect(level(out, 0, 1)).toBeGreaterThan(0.005);
  expect(out.left.length).toBeGreaterThanOrEqual(source.left.length);
  expect(out.left.subarray(0, source.left.length)).not.toEqual(source.left);
});

test('a living echo: dotted, darker each time, unsteady', async ({ page }) => {
  const task = 'a living echo: dotted, darker each time, unsteady';
  const acts = new Acts(page);
  await beginOn(page, 'Tram bell');
  await acts.click('Add a stage');
  await acts.search('echo');
  await acts.enter('delay time, value', '1/8d');
  await acts.enter('feedback, value', '60 %');
  await acts.click('add stage in Loop');
  await acts.search('dull');
  await acts.enter('cutoff, value', '2 kHz');
  await acts.click(/show the parameters of Echo|show the parameters of Delay/);
  await acts.click(/^More for delay time/);
  await acts.click(/^Modulate with a new LFO/, 'menuitem');
  await acts.click('Render', 'tab');
  await acts.click('Render');
  await acts.enter('Name of the new chain', 'Living');
  acts.within(task);
  const out = samplesOf(await finishedRender(page, FLOAT));
  expect(out.left.length / out.rate).toBeGreaterThan(3);
  expect(level(out, 0, 0.3)).toBeGreaterThan(0.01);
});

test('a preset with four controls, by pointer only', async ({ page }) => {
  const task = 'a preset with four controls, by pointer only';
  const acts = new Acts(page);
  await beginOn(page, 'Harbour announcer');
  await acts.click('Add a stage');
  await acts.search('dull');
  const rows = ['cutoff', 'resonance (Q)', 'drive', 'dry/wet mix'];
  for (const row of rows)
    await acts.drag(page.locator('[data-row-of]').getByText(row), () => page.locator('[data-pin-place=new]'));
  const strip = page.getByTestId('panel-strip');
  await expect(strip.getByRole('slider')).toHaveCount(4);
  await acts.drag(strip.getByRole('slider').first(), strip.getByRole('slider').nth(1));
  await cascadeCurrent(page);
  await acts.click('Save version');
  acts.count += 1;
  await page.getByRole('dialog').getByRole('button', { name: 'Save', exact: true }).click();
  acts.within(task);
  await expect(page.getByText(/^version 1 · saved as version/)).toBeVisible();
});

test('a preset with four controls, by keyboard only', async ({ page }) => {
  const task = 'a preset with four controls, by keyboard only';
  const acts = new Acts(page);
  await page.goto(`/sounds/${await idOf(page, 'sounds', 'Harbour announcer')}`);
  await page.getByRole('button', { name: 'Begin a chain on it' }).focus();
  await acts.key('Enter');
  await expect(page.getByRole('button', { name: 'Add a stage' })).toBeVisible();
  await acts.key('n');
  await acts.search('dull');
  await acts.key('j');
  for (let n = 0; n < 4; n++) {
    await page.keyboard.press('p');
    acts.count += 1;
    await acts.key('Alt+ArrowDown');
  }
  const strip = page.getByTestId('panel-strip');
  await expect(strip.getByRole('slider')).toHaveCount(4);
  await acts.key('g');
  await acts.key('PageDown');
  await cascadeCurrent(page);
  await acts.key('Control+s');
  await acts.key('Enter');
  acts.within(task);
  await expect(page.getByText(/^version 1 · saved as version/)).toBeVisible();
});

test('render, find, rename, delete', async ({ page }) => {
  const task = 'render, find, rename, delete';
  await page.goto(`/bench/${await idOf(page, 'chains', 'Sleet')}?sound=${await idOf(page, 'sounds', 'Tram bell')}`);
  await cascadeCurrent(page);
  const acts = new Acts(page);
  await acts.click('Render', 'tab');
  await acts.click('Render');
  await finishedRender(page, FLOAT);
  await acts.click(/^Rename /);
  await acts.enter(page.getByRole('dialog').getByRole('textbox'), 'Bell in sleet');
  await expect(page.locator('[data-render=done]')).toContainText('Bell in sleet');
  await acts.click('Delete Bell in sleet');
  await acts.click('Delete for good');
  acts.within(task);
  await expect(page.locator('[data-render=done]')).toHaveCount(0);
});

test('a chain out as a file and in again', async ({ page }) => {
  const chain = await idOf(page, 'chains', 'Sleet');
  await page.goto(`/bench/${chain}?sound=${await idOf(page, 'sounds', 'Tram bell')}`);
  await cascadeCurrent(page);
  const acts = new Acts(page);
  await acts.click('Chain as a file');
  const coming = page.waitForEvent('download');
  await acts.click('Download chain file', 'menuitem');
  const download = await coming;
  expect(download.suggestedFilename()).toBe('Sleet.hxk.json');
  const bytes = readFileSync(await download.path());
  await acts.click('Library', 'link');
  acts.count += 2; // the button that opens the choice of a file, and the choice
  await page
    .getByLabel('Chain file')
    .setInputFiles({ name: 'Sleet.hxk.json', mimeType: 'application/json', buffer: bytes });
  await page.waitForURL(/\/bench\//);
  acts.within('a chain out as a file and in again');
  await cascadeCurrent(page);
  const again = page.url().match(/bench\/(\w+)/)![1];
  expect(again).not.toBe(chain);
  const documentOf = async (id: string) =>
    ((await (await page.request.get(`/api/chains/${id}`)).json()) as { document: object }).document;
  expect(await documentOf(again)).toEqual(await documentOf(chain));
  expect(JSON.parse(bytes.toString())).toEqual(await documentOf(chain));
});

test('two windows on one chain, both kept', async ({ context }) => {
  const [one, two] = [await context.newPage(), await context.newPage()];
  const document = {
    format: 'hexenkessel.chain',
    version: 2,
    name: 'For two windows',
    stages: [{ id: 'gain', kind: 'gain' }],
  };
  const { id } = (await (await one.request.post('/api/chains', { data: { document } })).json()) as { id: string };
  for (const page of [one, two]) {
    await page.goto(`/bench/${id}?sound=${await idOf(page, 'sounds', 'Tram bell')}`);
    await cascadeCurrent(page);
  }
  const [first, second] = [new Acts(one), new Acts(two)];
  await first.enter('gain, value', '-3 dB');
  await expect(one.getByText('draft saved')).toBeVisible();
  await second.enter('gain, value', '-20 dB');
  await expect(two.getByRole('alertdialog')).toBeVisible();
  await second.click(/^Put mine on top/);
  await expect(two.getByText('draft saved')).toBeVisible();
  await second.click('Render', 'tab');
  await second.click('Render');
  first.count += second.count;
  first.within('two windows on one chain, both kept');
  const source = samplesOf(await audioOf(two, await idOf(two, 'sounds', 'Tram bell'), FLOAT));
  const out = samplesOf(await finishedRender(two));
  expect(shareOf(source.left, out.left, 0)).toBeCloseTo(0.1, 3);
  const { versions } = (await (await one.request.get(`/api/chains/${id}`)).json()) as {
    versions: { number: number }[];
  };
  const theirs = (await (await one.request.get(`/api/chains/${id}/versions/${versions[0].number}`)).json()) as {
    stages: { settings: { gain: number } }[];
  };
  expect(theirs.stages[0].settings.gain).toBe(-3);
});

test('the server away and back, nothing lost', async ({ page }) => {
  const document = {
    format: 'hexenkessel.chain',
    version: 2,
    name: 'Through an outage',
    stages: [{ id: 'gain', kind: 'gain' }],
  };
  const { id } = (await (await page.request.post('/api/chains', { data: { document } })).json()) as { id: string };
  await page.goto(`/bench/${id}?sound=${await idOf(page, 'sounds', 'Tram bell')}`);
  await cascadeCurrent(page);
  const acts = new Acts(page);
  await page.route('**/api/**', (route) => route.abort());
  await acts.enter('gain, value', '-6.0206 dB');
  await expect(page.getByText('not saved').first()).toBeVisible();
  await page.unroute('**/api/**');
  await expect(page.getByText('draft saved')).toBeVisible({ timeout: 30_000 });
  await acts.click('Render', 'tab');
  await acts.click('Render');
  acts.within('the server away and back, nothing lost');
  const source = samplesOf(await audioOf(page, await idOf(page, 'sounds', 'Tram bell'), FLOAT));
  const out = samplesOf(await finishedRender(page, FLOAT));
  expect(shareOf(source.left, out.left, 0)).toBeCloseTo(0.5, 3);
});
