/** The published schema, by a validator that is not ours. */
import { readdirSync, readFileSync } from 'node:fs';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { describe, expect, test } from 'vitest';
import { BUILT_INS } from '../catalogue/builtIns.ts';
import { chainOf } from '../testing/chains.ts';
import { CHAIN_SCHEMA_ID, chainJsonSchema } from './jsonSchema.ts';
import { parseChain } from './validate.ts';

const text = readFileSync(new URL('../../../../docs/chain.schema.json', import.meta.url), 'utf8');
const published = JSON.parse(text) as Record<string, unknown>;
const ajv = new Ajv2020({ strict: true, strictTypes: false, allErrors: true });
const check = ajv.compile(published);
const errorsOf = (document: unknown): string[] =>
  check(document) ? [] : (check.errors ?? []).map(({ instancePath, keyword }) => `${instancePath} ${keyword}`);

test('is what the code has, under its own name, and small', () => {
  expect(published).toEqual(JSON.parse(JSON.stringify(chainJsonSchema(BUILT_INS))));
  expect(published['$id']).toBe(CHAIN_SCHEMA_ID);
  expect(Buffer.byteLength(text)).toBeLessThan(150_000);
});

test('takes every stage as it is added, and documents as they are written', () => {
  for (const { kind } of BUILT_INS.stages) expect([kind, ...errorsOf(chainOf([{ kind }]))]).toEqual([kind]);
  const folder = new URL('./upgrade/fixtures/', import.meta.url);
  for (const name of readdirSync(folder)) {
    const json = JSON.parse(readFileSync(new URL(name, folder), 'utf8')) as { version: number };
    expect(errorsOf(parseChain(BUILT_INS, json))).toEqual([]);
    expect(errorsOf(json)).toEqual(json.version === 2 ? [] : expect.arrayContaining(['/version const']));
  }
});

describe('one wrong field is pointed at', () => {
  const split = (stage: object) => ({ id: 's', kind: 'split', branches: [{ id: 'b', stages: [stage] }] });
  test.each([
    [{ stages: [{ id: 'h', kind: 'hall', settings: { decay: 900 } }] }, '/stages/0/settings/decay maximum'],
    [
      { stages: [{ id: 'h', kind: 'hall', settings: { decay: { beats: -1 } } }] },
      '/stages/0/settings/decay/beats exclusiveMinimum',
    ],
    [
      { stages: [{ id: 'h', kind: 'hall', settings: { decay: { hours: 1 } } }] },
      '/stages/0/settings/decay additionalProperties',
    ],
    [{ render: { tail: { mode: 'fixed', length: 'long' } } }, '/render/tail/length type'],
    [{ stages: [{ id: 'h', kind: 'hall', settings: { wetness: 1 } }] }, '/stages/0/settings additionalProperties'],
    [{ stages: [{ id: 'f', kind: 'filter', settings: { type: 'comb' } }] }, '/stages/0/settings/type enum'],
    [{ stages: [{ id: 'f', kind: 'wobble' }] }, '/stages/0/kind enum'],
    [{ stages: [{ id: 'f', kind: 'gain', mix: 2 }] }, '/stages/0/mix maximum'],
    [
      { stages: [split({ id: 'e', kind: 'echo', settings: { feedback: 'much' } })] },
      '/stages/0/branches/0/stages/0/settings/feedback type',
    ],
    [{ modulators: [{ id: 'l', kind: 'lfo', settings: { wave: 'zigzag' } }] }, '/modulators/0/settings/wave enum'],
    [{ timing: { tempo: 5 } }, '/timing/tempo minimum'],
    [{ colour: 'red' }, ' additionalProperties'],
  ])('%j', (rest, expected) => {
    const errors = errorsOf({ format: 'hexenkessel.chain', version: 2, name: 'Test', ...rest });
    expect(errors.length).toBeLessThanOrEqual(3);
    expect(errors).toContain(expected);
  });
});
