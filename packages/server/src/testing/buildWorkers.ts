/** Before the server's tests: its worker threads run what is built, so it is built anew – a second, when nothing has changed. */
import { execFileSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';

const ROOT = fileURLToPath(new URL('../../../..', import.meta.url));

export default function setup(): void {
  execFileSync(process.execPath, ['node_modules/typescript/bin/tsc', '-b'], { cwd: ROOT, stdio: 'inherit' });
}
