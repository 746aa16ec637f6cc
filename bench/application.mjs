// The built application on data of its own, and a browser for it.
import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { chromium } from '@playwright/test';

const root = fileURLToPath(new URL('..', import.meta.url));
const ARGS = ['--no-sandbox', '--disable-gpu', '--disable-background-networking', '--disable-component-update'];

export const launch = () => chromium.launch({ executablePath: '/usr/bin/chromium', args: ARGS });

/** A folder for data that is kept until `stop` is called without `keep`. */
export const newData = () => mkdtempSync(join(tmpdir(), 'hexenkessel-bench-'));

/** Starts the built application on data of its own, or that are given. */
export async function startServer(port, data = newData()) {
  const server = spawn('node', ['packages/server/dist/main.js'], {
    cwd: root,
    env: { ...process.env, PORT: String(port), HEXENKESSEL_DATA: data },
    stdio: 'ignore',
  });
  const base = `http://127.0.0.1:${port}`;
  const isUp = () =>
    fetch(`${base}/api/health`).then(
      ({ ok }) => ok,
      () => false,
    );
  while (!(await isUp())) await new Promise((resolve) => setTimeout(resolve, 200));
  const stop = async ({ keep = false } = {}) => {
    server.kill('SIGTERM');
    await new Promise((resolve) => server.once('exit', resolve));
    if (!keep) rmSync(data, { recursive: true, force: true });
  };
  return { base, stop, pid: server.pid };
}

/** Opens a chain on a sound and plays it round and round. */
export async function playRound(page, base, chain, sound) {
  await page.goto(`${base}/bench/${chain}?sound=${sound}`);
  await page
    .getByTestId('measures')
    .filter({ hasText: /LUFS · \d+ ms/ })
    .waitFor();
  await page.getByRole('button', { name: 'Loop the region' }).click();
  await page.getByRole('button', { name: 'Play the render', exact: true }).click();
  await page.waitForTimeout(1500);
}
