/** A bench on a chain and a sound, and its play button. */
import type { Page } from '@playwright/test';
import { cascadeCurrent, type Named } from './page.ts';

/** A new chain's id. */
export const newChain = async (page: Page, name: string, rest: object): Promise<string> => {
  const document = { format: 'hexenkessel.chain', version: 1, name, ...rest };
  return ((await (await page.request.post('/api/chains', { data: { document } })).json()) as Named).id;
};

export async function openBench(page: Page, chain: string, sound: string): Promise<void> {
  await page.goto(`/bench/${chain}?sound=${sound}`);
  await cascadeCurrent(page);
}

export const play = (page: Page) => page.getByRole('button', { name: 'Play the render', exact: true }).click();
export const stop = (page: Page) => page.getByRole('button', { name: 'Stop', exact: true }).click();
export const setValue = async (page: Page, name: string, value: string) => {
  const field = page.getByRole('textbox', { name: `${name}, value`, exact: true });
  await field.fill(value);
  await field.press('Enter');
};
