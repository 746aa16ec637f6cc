/** What a newcomer, a browser and a reader of screens expect of every view. */
import { readdirSync, statSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { addStage, cascadeCurrent, expectAccessible, idOf, watchFaults } from './page.ts';

/** The scripts of the page, without those of its threads: bytes as sent, and when they were asked for. */
const scriptsOf = (page: Page) =>
  page.evaluate(() =>
    (performance.getEntriesByType('resource') as PerformanceResourceTiming[])
      .filter(({ name }) => name.endsWith('.js') && !/Script-|Worker-|Worklet-/.test(name))
      .map(({ name, startTime, encodedBodySize }) => ({ name, startTime, bytes: encodedBodySize })),
  );
const sumOf = (scripts: readonly { readonly bytes: number }[]) => scripts.reduce((sum, { bytes }) => sum + bytes, 0);

test.describe('what is sent', () => {
  test('Start brings at most 300 kB of scripts and no stages', async ({ page }) => {
    await page.goto('/');
    await expect(page.getByRole('button', { name: 'Begin with Tram bell' })).toBeVisible();
    await page.waitForLoadState('networkidle');
    const sent = await scriptsOf(page);
    expect(sumOf(sent)).toBeGreaterThan(50_000);
    expect(sumOf(sent)).toBeLessThan(300_000);
    const texts = await Promise.all(sent.map(async ({ name }) => (await page.request.get(name)).text()));
    const scripts = texts.join('\n');
    expect(scripts).toContain('Take a sound and begin');
    for (const { summary } of BUILT_INS.stages) expect(scripts).not.toContain(summary);
  });

  test('the Bench brings at most 420 kB until it can be used, and hardly shifts', async ({ page }) => {
    await page.addInitScript(() => {
      const seen = window as unknown as { shifted: number; usable: number };
      seen.shifted = 0;
      new PerformanceObserver((list) => {
        for (const entry of list.getEntries() as unknown as { value: number; hadRecentInput: boolean }[])
          if (!entry.hadRecentInput) seen.shifted += entry.value;
      }).observe({ type: 'layout-shift', buffered: true });
      new MutationObserver(() => {
        const text = document.querySelector('[data-testid=measures]')?.textContent ?? '';
        if (seen.usable === undefined && /LUFS · \d+ ms/.test(text)) seen.usable = performance.now();
      }).observe(document, { subtree: true, childList: true, characterData: true });
    });
    await page.goto(`/bench/${await idOf(page, 'chains', 'Tide Turning')}`);
    await cascadeCurrent(page);
    await page.waitForTimeout(1000);
    const { usable, shifted } = await page.evaluate(() => {
      const { usable: at, shifted: moved } = window as unknown as { usable: number; shifted: number };
      return { usable: at, shifted: moved };
    });
    const scripts = await scriptsOf(page);
    const first = scripts.filter(({ startTime }) => startTime <= usable);
    expect(sumOf(first)).toBeGreaterThan(50_000);
    expect(sumOf(first)).toBeLessThan(420_000);
    // Tabs and dialogs come behind it.
    expect(scripts.length).toBeGreaterThan(first.length + 3);
    expect(shifted).toBeLessThan(0.1);
    // The audio worklet is fetched where the page cannot see it: its file is what is sent.
    const folder = 'packages/web/dist/assets/';
    const threads = readdirSync(folder).filter((name) => /(Script|Worker|Worklet)-[^.]+\.js\.br$/.test(name));
    expect(threads.some((name) => name.includes('Worklet'))).toBe(true);
    expect(threads.reduce((sum, name) => sum + statSync(folder + name).size, 0)).toBeLessThan(250_000);
  });
});

test('every view has a title and one heading; going there moves the focus and says where one is', async ({ page }) => {
  await page.goto('/');
  await expect(page).toHaveTitle('Start – Hexenkessel');
  const arrived = async (title: string) => {
    await expect(page).toHaveTitle(title);
    await expect(page.getByRole('heading', { level: 1 })).toHaveCount(1);
    await expect(page.getByRole('status', { name: 'Page' })).toHaveText(title);
    await expect(page.locator('main')).toBeFocused();
  };
  await page.getByRole('link', { name: 'Library' }).click();
  await arrived('Library – Hexenkessel');
  await page.getByRole('link', { name: 'Sheet of Tide Turning' }).click();
  await arrived('Tide Turning – Sheet – Hexenkessel');
  await page.getByRole('link', { name: 'Sounds' }).click();
  await arrived('Sounds – Hexenkessel');
  await page.getByRole('link', { name: 'Tram bell', exact: true }).click();
  await arrived('Tram bell – Sounds – Hexenkessel');
  await page.getByRole('link', { name: 'Reference' }).click();
  await expect(page).toHaveTitle(/ – Reference – Hexenkessel$/);
  await page.goto(`/bench/${await idOf(page, 'chains', 'Tide Turning')}`);
  await expect(page).toHaveTitle('Tide Turning – Bench – Hexenkessel');
  await page.locator('body').press('Tab');
  await page.getByRole('link', { name: 'Skip to content' }).press('Enter');
  await expect(page.locator('main')).toBeFocused();
});

test('what is searched and which tab is open stands in the address, and comes back with it', async ({ page }) => {
  await page.goto('/library');
  await page.getByRole('textbox', { name: 'Find chains' }).fill('machine voice');
  await expect(page).toHaveURL(/\?find=machine\+voice$/);
  await page.getByRole('button', { name: 'Open Talking Kettle' }).click();
  await page.getByRole('tab', { name: 'Render' }).click();
  await expect(page).toHaveURL(/tab=render/);
  await page.reload();
  await expect(page.getByRole('tab', { name: 'Render' })).toHaveAttribute('aria-selected', 'true');
  await expect(page.getByRole('textbox', { name: 'Random seed' })).toBeVisible();
  await page.goBack();
  await expect(page.getByRole('textbox', { name: 'Find chains' })).toHaveValue('machine voice');
  await expect(page.getByRole('row')).toHaveCount(2);
});

test('an address that nothing is at says so and names ways on', async ({ page }) => {
  await page.goto('/harbour/9');
  await expect(page).toHaveTitle('Not found – Hexenkessel');
  await expect(page.getByRole('heading', { level: 1, name: 'There is nothing here' })).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('main').getByRole('link', { name: 'Sounds' }).click();
  await expect(page.locator('[data-sound="Tram bell"]')).toBeVisible();
  await page.goto('/sounds/01ARZ3NDEKTSV4RRFFQ69G5FAV');
  await expect(page.getByRole('heading', { level: 1, name: 'That sound is not here' })).toBeVisible();
});

test('while the server is away it is said, nothing is lost, and what is done meanwhile is saved when it is back', async ({
  page,
}) => {
  const document = { format: 'hexenkessel.chain', version: 2, name: 'Fog bank', stages: [{ id: 'g', kind: 'gain' }] };
  const { id } = (await (await page.request.post('/api/chains', { data: { document } })).json()) as { id: string };
  await page.goto(`/bench/${id}`);
  await cascadeCurrent(page);
  await page.route('**/api/**', (route) => route.abort());
  const gain = page.getByRole('textbox', { name: 'gain, value' });
  await gain.fill('-7 dB');
  await gain.press('Enter');
  const away = page.getByText('The server cannot be reached');
  await expect(away).toBeVisible();
  await expectAccessible(page);
  // Whoever closes the window now is asked first.
  const asked = page.waitForEvent('dialog');
  await page.close({ runBeforeUnload: true });
  const dialog = await asked;
  expect(dialog.type()).toBe('beforeunload');
  await dialog.dismiss();
  await page.unroute('**/api/**');
  await expect(away).toBeHidden();
  await expect(page.getByText(/draft saved/)).toBeVisible();
  const kept = (await (await page.request.get(`/api/chains/${id}`)).json()) as {
    document: { stages: { settings: { gain: number } }[] };
  };
  expect(kept.document.stages[0].settings.gain).toBe(-7);
});

test('storage that is denied, and a theme that follows the system until one is chosen', async ({ page }) => {
  const faults = watchFaults(page);
  await page.addInitScript(() =>
    Object.defineProperty(window, 'localStorage', {
      get: () => {
        throw new DOMException('denied', 'SecurityError');
      },
    }),
  );
  await page.emulateMedia({ colorScheme: 'light' });
  await page.goto('/');
  await expect(page.getByRole('button', { name: 'Begin with Tram bell' })).toBeVisible();
  const html = page.locator('html');
  await expect(html).toHaveClass(/light/);
  await page.emulateMedia({ colorScheme: 'dark' });
  await expect(html).toHaveClass(/dark/);
  await page.getByRole('button', { name: 'Paper or soot' }).click();
  await expect(html).toHaveClass(/light/);
  await page.emulateMedia({ colorScheme: 'light' });
  await page.emulateMedia({ colorScheme: 'dark' });
  await expect(html).toHaveClass(/light/);
  await page.goto(`/bench/${await idOf(page, 'chains', 'Talking Kettle')}`);
  await cascadeCurrent(page);
  expect(faults).toEqual([]);
});

test('a tip can be pointed at, describes what it stands beside, and goes with Escape', async ({ page }) => {
  await page.goto('/');
  const button = page.getByRole('button', { name: 'Paper or soot' });
  await button.hover();
  const tip = page.getByRole('tooltip');
  await expect(tip).toHaveText('Paper or soot');
  await expect(button).toHaveAccessibleDescription('Paper or soot');
  await tip.hover();
  await page.waitForTimeout(800);
  await expect(tip).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(tip).toBeHidden();
});

for (const [what, size] of [
  ['320 pixels wide', { width: 320, height: 640 }],
  ['at a zoom of 200 %', { width: 640, height: 400 }],
] as const)
  test(`nothing has to be scrolled sideways but tables and pictures: ${what}`, async ({ page }) => {
    await page.setViewportSize(size);
    const chain = await idOf(page, 'chains', 'Tide Turning');
    const sound = await idOf(page, 'sounds', 'Foghorn');
    const views: readonly (readonly [string, () => Promise<void>])[] = [
      ['/', () => expect(page.getByRole('button', { name: 'Begin with Tram bell' })).toBeVisible()],
      ['/library', () => expect(page.getByRole('button', { name: 'Open Tide Turning' })).toBeAttached()],
      ['/sounds', () => expect(page.locator('[data-sound="Foghorn"]')).toBeAttached()],
      [`/sounds/${sound}`, () => expect(page.getByRole('button', { name: 'Begin a chain on it' })).toBeAttached()],
      ['/reference/echo', () => expect(page.getByRole('heading', { level: 2 })).toBeVisible()],
      [`/sheet/${chain}`, () => expect(page.locator('article svg')).toBeVisible()],
      [`/bench/${chain}`, () => cascadeCurrent(page)],
    ];
    for (const [path, ready] of views) {
      await page.goto(path);
      await ready();
      const wide = await page.evaluate(() => {
        const beyond = (element: Element): boolean => {
          // What scrolls in a box of its own, or is cut off by one, makes nobody scroll the page.
          for (let at = element.parentElement; at && at.id !== 'main'; at = at.parentElement)
            if (getComputedStyle(at).overflowX !== 'visible' && at.getBoundingClientRect().right <= innerWidth + 1)
              return false;
          return true;
        };
        const out = [...document.querySelectorAll('body *')].filter((element) => {
          const { right, width, height } = element.getBoundingClientRect();
          return right > innerWidth + 1 && width > 1 && height > 1 && beyond(element);
        });
        return out.map(
          (element) =>
            `${element.tagName} ${element.getAttribute('aria-label') ?? element.textContent?.slice(0, 30) ?? ''}`,
        );
      });
      expect([path, ...wide.slice(0, 5)]).toEqual([path]);
      expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(size.width);
    }
    // What the Bench is for can still be reached.
    const play = page.getByRole('button', { name: 'Play the render', exact: true });
    await play.scrollIntoViewIfNeeded();
    await expect(play).toBeInViewport();
    await addStage(page, 'backwards');
    await expectAccessible(page);
  });

test('on paper a view is whole, in ink on white, without what can only be pressed', async ({ page }) => {
  await page.emulateMedia({ colorScheme: 'dark' });
  await page.goto(`/sheet/${await idOf(page, 'chains', 'Isobar Choir')}`);
  await expect(page.locator('article svg')).toBeVisible();
  await page.emulateMedia({ media: 'print', colorScheme: 'dark' });
  await expect(page.getByRole('navigation', { name: 'Views' })).toBeHidden();
  await expect(page.getByRole('button', { name: 'HTML, one file' })).toBeHidden();
  const { whole, ink } = await page.evaluate(() => {
    const article = document.querySelector('article')!;
    return {
      whole: document.documentElement.scrollHeight >= article.getBoundingClientRect().height,
      ink: getComputedStyle(article).color,
    };
  });
  expect([whole, ink]).toEqual([true, 'rgb(0, 0, 0)']);
  const pdf = await page.pdf({ format: 'A4' });
  const pages = pdf.toString('latin1').match(/\/Type\s*\/Page\b/g) ?? [];
  expect(pages.length).toBeGreaterThan(2);
});
