/** A bench on a chain and a sound, and its play button. */
import type { APIRequestContext, Page } from '@playwright/test';
import { cascadeCurrent } from './page.ts';

export interface Entry {
  readonly id: string;
  readonly name: string;
}
export const idOf = async (request: APIRequestContext, kind: 'chains' | 'sounds', name: string) =>
  ((await (await request.get(`/api/${kind}`)).json()) as Entry[]).find((entry) => entry.name === name)?.id ?? '';

export const newChain = async (request: APIRequestContext, name: string, rest: object) => {
  const document = { format: 'hexenkessel.chain', version: 1, name, ...rest };
  return ((await (await request.post('/api/chains', { data: { document } })).json()) as Entry).id;
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
