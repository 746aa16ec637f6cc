// Writes docs/scripts.md. Run it with `node scripts/write-script-docs.mjs` after a build; a test says when that is due.
import { writeFileSync } from 'node:fs';
import { scriptDocs } from '../packages/core/dist/script/scriptDocs.js';

writeFileSync(new URL('../docs/scripts.md', import.meta.url), scriptDocs());
