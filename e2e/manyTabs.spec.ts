/** Many pages of one browser: it opens six connections to a server, and one of them is enough for all of them to be told. */
import { expect, test, type Page } from '@playwright/test';
import { idOf } from './page.ts';

test('eight tabs all work, and each is told of renders; so are the others when the one that listened is closed', async ({
  context,
}) => {
  const streams: string[] = [];
  context.on('request', (request) => {
    if (request.url().endsWith('/renders/events')) streams.push(request.url());
  });
  const tabs: Page[] = [];
  for (let n = 0; n < 8; n++) {
    const tab = await context.newPage();
    tabs.push(tab);
    await tab.goto('/sounds');
    await expect(tab.getByRole('heading', { level: 1, name: 'Sounds' })).toBeVisible();
    await expect(tab.getByText(/sounds, .* on disk/)).toBeVisible();
  }
  expect(streams).toHaveLength(1);
  const last = tabs[7];
  const sourceId = await idOf(last, 'sounds', 'Tram bell');
  const chainId = await idOf(last, 'chains', 'Copper Dome');
  const render = async () => {
    const { revision } = (await (await last.request.get(`/api/chains/${chainId}`)).json()) as { revision: number };
    const answer = await last.request.post('/api/renders', { data: { sourceId, chainId, revision } });
    return (await answer.json()) as { name: string };
  };
  const one = await render();
  for (const tab of [tabs[0], last]) await expect(tab.getByText(one.name, { exact: true }).first()).toBeVisible();
  await tabs[0].close();
  await expect.poll(() => streams.length).toBe(2);
  const two = await render();
  for (const tab of [tabs[3], last]) await expect(tab.getByText(two.name, { exact: true }).first()).toBeVisible();
});
