/** Whole-clip stages, regions, and what becomes of sounds: as a user goes about it. */
import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import {
  addStage,
  audioOf,
  cascadeCurrent,
  expectAccessible,
  idOf,
  markRegion,
  openEmpty,
  renderHere,
  tickSounds,
  watchFaults,
  type Named,
} from './page.ts';
import { newChain, openBench } from './playing.ts';
import { readWav, steadyTone } from './sounds.ts';

test('a bend is drawn: a point dragged and moved by keys, a shape stamped, each one step back', async ({ page }) => {
  const faults = watchFaults(page);
  await openEmpty(page, 'Bending', 'Foghorn');
  await addStage(page, 'dive');
  await cascadeCurrent(page);
  const curve = page.getByRole('textbox', { name: 'speed curve', exact: true });
  await expect(curve).toHaveValue('clip 0:0 1:-12');
  const last = page.getByRole('slider', { name: 'Breakpoint 2' });
  await last.focus();
  await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowDown');
  await expect(curve).toHaveValue('clip 0:0 1:-24');
  await page.getByRole('slider', { name: 'Curve of segment 1' }).focus();
  await page.keyboard.press('ArrowRight');
  await expect(curve).toHaveValue('clip 0:0~0.05 1:-24');

  const editor = page.getByRole('group', { name: 'speed curve, over the clip' });
  const box = (await editor.boundingBox())!;
  await page.mouse.dblclick(box.x + box.width * 0.5, box.y + box.height * 0.25);
  await expect(page.getByRole('slider', { name: 'Breakpoint 3' })).toBeVisible();
  await page.getByRole('combobox', { name: 'Shape', exact: true }).selectOption('triangle');
  await page.getByRole('textbox', { name: 'Shape to' }).fill('-7');
  await page.getByRole('textbox', { name: 'Shape to' }).press('Enter');
  await page.getByRole('textbox', { name: 'Cycles of the shape' }).fill('2');
  await page.getByRole('textbox', { name: 'Cycles of the shape' }).press('Enter');
  await page.getByRole('button', { name: /^Insert shape 0 % – 100 %/ }).click();
  // It stays a shape until one of its points is moved.
  await expect(curve).toHaveValue('clip triangle(0,1,0,-7,2,1)');
  await cascadeCurrent(page);
  await page.getByRole('slider', { name: 'Breakpoint 2' }).focus();
  await page.keyboard.press('ArrowDown');
  await expect(curve).toHaveValue('clip 0:0 0.25:-8 0.5:0 0.75:-7 1:0');
  await page.keyboard.press('Control+z');
  await expect(curve).toHaveValue('clip triangle(0,1,0,-7,2,1)');
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('slider', { name: 'Breakpoint 3' })).toBeVisible();
  await curve.fill('beats 0:99');
  await curve.press('Enter');
  await expect(page.getByText(/allowed is breakpoints from −48 st/)).toBeVisible();
  await expectAccessible(page);
  expect(faults).toEqual([]);
});

test('the last beat of a bar stops: only it changes, and ends on the line', async ({ page }) => {
  const drums = await idOf(page, 'sounds', 'Boiler-room drums');
  await openEmpty(page, 'Stopping', 'Boiler-room drums');
  await page.getByRole('textbox', { name: 'Tempo' }).fill('93');
  await page.getByRole('textbox', { name: 'Tempo' }).press('Enter');
  await addStage(page, 'slow down');
  await page.keyboard.press('Escape');
  for (const [row, value] of [
    ['delay before stop, value', '0'],
    ['stop time, value', '1 beats'],
  ]) {
    const field = page.getByRole('textbox', { name: row });
    if ((await field.count()) === 0) continue;
    await field.fill(value);
    await field.press('Enter');
  }
  await page.getByRole('tab', { name: 'Render' }).click();
  await markRegion(page, '3 beats', '4 beats');
  const panel = page.getByRole('tabpanel');
  await panel.getByRole('combobox', { name: 'Splice tail' }).selectOption('cut');
  await expect(page.getByTestId('estimate')).toContainText('Output: up to 5.161 s');
  const made = await renderHere(page, 'Render and splice');
  const [whole, source] = [readWav(await audioOf(page, made)), readWav(await audioOf(page, drums, '?depth=32f'))];
  expect(whole.size.length).toBe(source.size.length);
  const [from, to] = [3, 4].map((beat) => Math.round((beat * 60 * 48_000) / 93));
  const frame = whole.channels * 4;
  const same = (a: number, b: number) =>
    whole.data.subarray(a * frame, b * frame).equals(source.data.subarray(a * frame, b * frame));
  expect(same(0, from)).toBe(true);
  expect(same(to, whole.size.length)).toBe(true);
  expect(same(from, to)).toBe(false);
  const sounds = (await (await page.request.get('/api/sounds?limit=500')).json()) as (Named & {
    lineage: { region: unknown } | null;
  })[];
  expect(sounds.find(({ id }) => id === made)!.lineage!.region).toMatchObject({ region: { start: from, end: to } });
});

test('pieces: cut by hand on the waveform, each turned round; the pitch of a voice and where it goes', async ({
  page,
}) => {
  await openEmpty(page, 'Piecework', 'Harbour announcer');
  await addStage(page, 'cut up');
  await page.getByRole('combobox', { name: 'slice at', exact: true }).selectOption('hand');
  const picture = page.locator('[data-picture=cuts]');
  await expect(picture).toContainText('1 slice');
  const box = (await picture.locator('svg').boundingBox())!;
  await page.mouse.dblclick(box.x + box.width * 0.5, box.y + box.height * 0.5);
  await expect(picture).toContainText('2 slices');
  const cuts = page.getByRole('textbox', { name: 'cut points', exact: true });
  const before = Number(await cuts.inputValue());
  expect(before).toBeCloseTo(2.1, 1);
  await page.getByRole('slider', { name: 'Cut 1' }).focus();
  await page.keyboard.press('ArrowRight');
  await expect.poll(async () => Number(await cuts.inputValue())).toBeCloseTo(before + 0.005, 3);
  await page.getByRole('button', { name: 'add stage in Every slice' }).click();
  await page.getByRole('combobox', { name: 'What should happen to the sound?' }).fill('backwards');
  await page.keyboard.press('Enter');
  await cascadeCurrent(page);
  await expect(page.locator('[data-row=Reverse]')).toContainText('applied to each slice');
  await page.getByRole('button', { name: 'Remove Slicer' }).click();
  await addStage(page, 'flatten');
  await expect(page.locator('[data-picture=pitch]')).toBeVisible();
  await expect(page.locator('[data-picture=pitch] svg path')).not.toHaveCount(0);
  // In a branch it is drawn over what goes into that.
  await page.keyboard.press('Control+z');
  await expect(page.locator('[data-picture=pitch]')).toHaveCount(0);
  await addStage(page, 'parallel');
  await page.getByRole('button', { name: 'add stage in Branch 2' }).click();
  await page.getByRole('combobox', { name: 'What should happen to the sound?' }).fill('flatten');
  await page.keyboard.press('Enter');
  await cascadeCurrent(page);
  await expect(page.locator('[data-picture=pitch] svg path')).not.toHaveCount(0);
});

test('a window longer than the clip is refused before the work, on the bench and in the render panel', async ({
  page,
}) => {
  await openEmpty(page, 'Smearing', 'Telegraph clicks');
  await addStage(page, 'smear');
  await page.getByRole('textbox', { name: 'window length, value' }).fill('5 s');
  await page.getByRole('textbox', { name: 'window length, value' }).press('Enter');
  await expect(
    page.getByRole('alert').filter({ hasText: 'longer than the clip; at most its length of' }),
  ).toBeVisible();
  await page.getByRole('tab', { name: 'Render' }).click();
  await expect(page.getByRole('tabpanel').getByRole('alert')).toContainText('longer than the clip');
  await page.getByRole('tab', { name: 'Stage' }).click();
  for (const [row, value] of [
    ['window length, value', '250 ms'],
    ['stretch factor, value', '900'],
  ]) {
    await page.getByRole('textbox', { name: row }).fill(value);
    await page.getByRole('textbox', { name: row }).press('Enter');
  }
  // Long work tells how far it is and can be left.
  await expect(page.getByTestId('measures')).toContainText(/rendering … \d+ %/);
  await page.getByRole('button', { name: 'Stop', exact: true }).click();
  await expect(page.getByTestId('measures')).toContainText('render stopped');
  await expect(page.getByRole('button', { name: 'Resume' })).toBeVisible();
});

test('a sound gets loops and a root note, goes out with them, is restored, sealed, kept as long as it is needed', async ({
  page,
}) => {
  const faults = watchFaults(page);
  await openEmpty(page, 'Looping', 'Wind harp');
  await addStage(page, 'backwards');
  await cascadeCurrent(page);
  await page.getByRole('tab', { name: 'Render' }).click();
  const made = await renderHere(page, 'Render');

  await page.goto(`/sounds/${made}`);
  await page.getByRole('button', { name: 'Place a sustain loop' }).click();
  await page.getByRole('button', { name: 'Place a release loop' }).click();
  const start = page.getByRole('textbox', { name: 'Start of the sustain loop in samples' });
  await expect(start).toBeVisible();
  await page.getByRole('slider', { name: 'sustain loop, start' }).focus();
  const placed = Number(await start.inputValue());
  await page.keyboard.press('Shift+ArrowRight');
  await expect(start).toHaveValue(String(placed + 100));
  const end = page.getByRole('textbox', { name: 'End of the sustain loop in samples' });
  await end.fill('9999999');
  await end.press('Enter');
  await expect(page.getByText(/9999999 is not allowed/)).toBeVisible();
  await page.getByRole('textbox', { name: 'Root note' }).fill('A3');
  await page.getByRole('textbox', { name: 'Root note' }).press('Enter');
  await page.getByRole('textbox', { name: 'Tags, with commas between' }).fill('harp, looped');
  await page.getByRole('textbox', { name: 'Tags, with commas between' }).press('Enter');
  await expect(page.getByRole('img', { name: 'Seam of the sustain loop' })).toBeVisible();
  await expectAccessible(page);

  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: /^Download WAV of Wind harp/ }).click();
  const file = readFileSync(await (await download).path());
  const at = file.indexOf('smpl') + 8;
  expect(file.readUInt32LE(at + 12)).toBe(57);
  expect(file.readUInt32LE(at + 28)).toBe(2);
  expect(file.readUInt32LE(at + 36 + 8)).toBe(placed + 100);

  await page.goto('/sounds');
  await page.getByRole('textbox', { name: 'Find a sound' }).fill('looped');
  await expect(page.locator('[data-sound]')).toHaveCount(1);
  await page.getByRole('button', { name: 'by lineage' }).click();
  await page.getByRole('textbox', { name: 'Find a sound' }).fill('wind harp');
  await expect(page.getByRole('treeitem', { level: 2 }).filter({ hasText: 'Looping' })).toBeVisible();
  await expectAccessible(page);

  await page.goto(`/sounds/${await idOf(page, 'sounds', 'Wind harp')}`);
  await expect(page.getByText(/Cannot be deleted: it is needed by the render/)).toBeVisible();
  await page.goto(`/sounds/${made}`);
  await page.getByText('not sealed: follows its chain').click();
  await expect(page.getByRole('dialog')).toContainText('is not rendered again when its chain changes');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Seal it' }).click();
  await expect(page.getByRole('button', { name: 'Render again' })).toBeDisabled();
  await page.getByRole('link', { name: 'Restore' }).click();
  await expect(page.getByText('The chain is as it was when it made')).toBeVisible();
  await expect(page.locator('[data-stage=reverse]')).toBeVisible();
  await expect(page).toHaveURL(/sound=\w+$/);

  await page.goto(`/sounds/${made}`);
  await page.getByRole('button', { name: 'Delete this sound' }).click();
  await page.getByRole('button', { name: 'Delete for good' }).click();
  await expect(page).toHaveURL(/\/sounds$/);
  expect((await page.request.get(`/api/sounds/${made}`)).status()).toBe(404);
  expect(faults.filter((fault) => !fault.includes('404'))).toEqual([]);
});

test('several sounds are rendered each on its own and written as one ZIP; an MP3 comes in', async ({ page }) => {
  await page.goto('/sounds');
  await tickSounds(page, ['Tram bell', 'Telegraph clicks']);
  await page.getByRole('button', { name: 'Render 2' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('combobox', { name: 'Chain' }).selectOption({ label: 'Copper Dome' });
  await dialog.getByRole('button', { name: 'Render 2' }).click();
  await expect(page.locator('[data-sound^="Tram bell –"]').first()).toBeVisible();
  await expect(page.locator('[data-sound^="Telegraph clicks –"]').first()).toBeVisible();

  await page.getByRole('button', { name: 'Export 2' }).click();
  await dialog.getByRole('textbox', { name: 'Names of the files' }).fill('{number} {sound}');
  await dialog.getByRole('textbox', { name: 'Names of the files' }).press('Enter');
  await expect(dialog.getByText('01 Telegraph clicks.wav').or(dialog.getByText('01 Tram bell.wav'))).toBeVisible();
  const download = page.waitForEvent('download');
  await dialog.getByRole('link', { name: 'Download ZIP' }).click();
  const zip = readFileSync(await (await download).path());
  expect(zip.toString('latin1', 0, 2)).toBe('PK');
  expect(zip.toString('latin1').split('RIFF').length - 1).toBe(2);

  const mp3 = readFileSync(new URL('../packages/core/src/formats/decoding/fixtures/two-tones.mp3', import.meta.url));
  await page.getByLabel('Sound files').setInputFiles({ name: 'Two tones.mp3', mimeType: 'audio/mpeg', buffer: mp3 });
  await expect(page.locator('[data-sound="Two tones"]')).toContainText('source (mp3)');
});

test('what a file cannot hold is said before it is written: a place before midnight, a level over 0 dBFS', async ({
  page,
}) => {
  // A tone whose file says that it lies at midnight.
  const tone = steadyTone();
  const chunk = Buffer.alloc(8 + 602);
  chunk.write('bext', 0);
  chunk.writeUInt32LE(602, 4);
  const file = Buffer.concat([tone.subarray(0, 36), chunk, tone.subarray(36)]);
  file.writeUInt32LE(file.length - 8, 4);
  await page.goto('/sounds');
  await page.getByLabel('Sound files').setInputFiles({ name: 'Midnight.wav', mimeType: 'audio/wav', buffer: file });
  await expect(page.locator('[data-sound="Midnight"]')).toBeVisible();

  const chain = await newChain(page, 'Early and loud', {
    stages: [{ id: 'gain', kind: 'gain', settings: { gain: 24 } }],
    render: { leadIn: { mode: 'fixed', length: 1.5 }, tail: { mode: 'none' } },
  });
  await openBench(page, chain, await idOf(page, 'sounds', 'Midnight'));
  await page.getByRole('tab', { name: 'Render' }).click();
  await expect(page.getByText(/The render begins 1\.5 s before midnight/)).toBeVisible();
  await renderHere(page, 'Render');

  await page.goto('/sounds');
  const made = (await page.locator('[data-sound^="Midnight –"]').first().getAttribute('data-sound'))!;
  await tickSounds(page, [made, 'Midnight']);
  await page.getByRole('button', { name: 'Export 2' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByText(/peaks at .*: what is over 0 dBFS is clipped at 24 bits/)).toBeVisible();
  await expectAccessible(page);
  await dialog.getByRole('combobox', { name: 'Sample format' }).selectOption({ label: '32 bit float' });
  await expect(dialog.getByText(/is clipped at/)).toHaveCount(0);
});

test('renders that nobody needs go only when they are marked', async ({ page }) => {
  await openEmpty(page, 'Passing', 'Telegraph clicks');
  await addStage(page, 'backwards');
  await cascadeCurrent(page);
  await page.getByRole('tab', { name: 'Render' }).click();
  const made = await renderHere(page, 'Render');
  await page.goto('/sounds');
  await page.getByRole('button', { name: /nobody needs/ }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByRole('button', { name: /^Delete 0 for good/ })).toBeDisabled();
  await dialog.getByText('Telegraph clicks – Passing').click();
  await expectAccessible(page);
  await dialog.getByRole('button', { name: /^Delete 1 for good/ }).click();
  await expect(page.getByText('1 sound is gone')).toBeVisible();
  expect((await page.request.get(`/api/sounds/${made}`)).status()).toBe(404);
});
