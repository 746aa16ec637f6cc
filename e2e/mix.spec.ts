import { expect, test } from '@playwright/test';
import { audioOf, expectAccessible, idOf, tickSounds, watchFaults } from './page.ts';
import { RATE, readWav, steadyTone, testSound } from './sounds.ts';

test('stems are mixed with level, offset and mute; the mix knows them and is mixed again', async ({ page }) => {
  const faults = watchFaults(page);
  await page.goto('/sounds');
  const files = [
    { name: 'Stem tone.wav', mimeType: 'audio/wav', buffer: steadyTone() },
    { name: 'Stem notes.wav', mimeType: 'audio/wav', buffer: testSound() },
  ];
  await page.getByLabel('Sound files').setInputFiles(files);
  const stems = ['Stem tone', 'Stem notes'];
  for (const stem of stems) await expect(page.locator(`[data-sound="${stem}"]`)).toBeVisible();
  await tickSounds(page, stems);
  await page.getByRole('button', { name: 'Mix 2', exact: true }).click();
  const dialog = page.getByRole('dialog');
  const enter = async (label: string, text: string) => {
    await dialog.getByRole('textbox', { name: label, exact: true }).fill(text);
    await dialog.getByRole('textbox', { name: label, exact: true }).press('Enter');
  };
  await dialog.getByRole('combobox', { name: 'Lay out' }).selectOption({ label: 'all from the same start' });
  await enter('Name of the mix', 'Both stems');
  await enter('Level of Stem tone', '40');
  await expect(dialog.getByRole('alert')).toContainText('allowed is -60 to 24 dB');
  await enter('Level of Stem tone', '-12.0412 dB');
  await enter('Offset of Stem tone', '0,5 s');
  await expect(dialog.getByText('3 s in all')).toBeVisible();
  await expectAccessible(page);
  await dialog.getByRole('button', { name: 'Mix 2' }).click();

  await expect(page.getByRole('textbox', { name: 'Name of the sound' })).toHaveValue('Both stems');
  const made = readWav(await audioOf(page, await idOf(page, 'sounds', 'Both stems'), '?depth=32f'));
  const notes = readWav(testSound());
  const tone = readWav(steadyTone());
  expect([made.channels, made.rate, made.size.length]).toEqual([2, RATE, notes.size.length]);
  const factor = 10 ** (-12.0412 / 20);
  for (const frame of [100, 9400, RATE / 2 - 1, RATE / 2 + 7, 2 * RATE, 2.5 * RATE + 3, 3 * RATE - 1])
    for (const c of [0, 1]) {
      const at = frame - RATE / 2;
      const struck = at >= 0 && at < 2 * RATE ? (factor * tone.data.readInt16LE(2 * at)) / 32768 : 0;
      const note = notes.data.readInt16LE(4 * frame + 2 * c) / 32768;
      expect(made.data.readFloatLE(4 * (2 * frame + c)), `frame ${frame}`).toBeCloseTo(note + struck, 6);
    }

  const from = page.getByRole('region', { name: 'Mixed from' });
  await expect(from).toContainText('Stem tone −12.0412 dB, 500 ms later');
  await from.getByRole('button', { name: 'Mix again' }).click();
  await expect(dialog.getByRole('textbox', { name: 'Offset of Stem tone' })).toHaveValue('500 ms');
  const muted = page.getByRole('checkbox', { name: 'Mute Stem notes' });
  await dialog.locator('label').filter({ has: muted }).click();
  await expect(muted).toBeChecked();
  await enter('Name of the mix', 'Tone alone');
  await dialog.getByRole('button', { name: 'Mix 2' }).click();
  await expect(page.getByRole('textbox', { name: 'Name of the sound' })).toHaveValue('Tone alone');
  const alone = readWav(await audioOf(page, await idOf(page, 'sounds', 'Tone alone'), '?depth=32f'));
  expect(alone.size.length).toBe(notes.size.length);
  expect(alone.size.subarray(0, RATE / 2).every((value) => value === 0)).toBe(true);
  expect(alone.size.subarray(2.5 * RATE).every((value) => value === 0)).toBe(true);
  await from.getByRole('link', { name: 'Stem tone' }).click();
  await expect(page.getByText('Cannot be deleted: it is needed by the mix')).toContainText('“Tone alone”');
  expect(faults).toEqual([]);
});
