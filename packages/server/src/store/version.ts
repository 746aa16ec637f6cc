import { readFileSync } from 'node:fs';

/** Of this program. */
export const VERSION = (
  JSON.parse(readFileSync(new URL('../../package.json', import.meta.url), 'utf8')) as { version: string }
).version;
