// Writes the JSON Schema of chain files, which other programs may check against, from the code's own schema.
import { writeFileSync } from 'node:fs';
import { chainJsonSchema } from '../packages/core/dist/index.js';

writeFileSync(new URL('../docs/chain.schema.json', import.meta.url), `${JSON.stringify(chainJsonSchema(), null, 2)}\n`);
