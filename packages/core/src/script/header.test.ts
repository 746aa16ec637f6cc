import { expect, test } from 'vitest';
import { describeRange, parseSetting, printSetting, resolveSetting } from '../params/params.ts';
import { ScriptError } from './faults.ts';
import type { Timing } from '../timing/tempo.ts';
import { readHeader } from './header.ts';
import { parseScript } from './parse.ts';

const HEAD = `export const language = 1;
export const title = 'Single repeat';
export const family = 'time';
export const summary = 'Adds the sound to itself once, later.';
export const keywords = ['slapback', 'double'];
`;
const PARAMS = `export const params = {
  time: time({ default: '1/8', min: '1 ms', max: '2 s', doc: 'How late the repeat comes.' }),
  amount: ratio({ default: 0.5, doc: 'How loud the repeat is.' }),
  tone: frequency({ default: '2.5k', min: 20, max: '20 kHz', doc: 'Above this it gets duller.' }),
  gain: level({ default: '-6 dB', min: -60, max: 12, fixed: true, doc: 'Louder.' }),
  shape: choice(['sine', 'saw'], { default: 'saw', doc: 'Which wave.' }),
  dull: toggle({ default: true, doc: 'Duller.' }),
};
`;
const timing: Timing = { tempo: 93, meter: [4, 4] };

test('what a script says of itself is read, and its settings are settings like those of any stage', () => {
  const { title, family, summary, keywords, params } = readHeader(parseScript(HEAD + PARAMS));
  expect({ title, family, summary, keywords }).toEqual({
    title: 'Single repeat',
    family: 'time',
    summary: 'Adds the sound to itself once, later.',
    keywords: ['slapback', 'double'],
  });
  expect(Object.keys(params)).toEqual(['time', 'amount', 'tone', 'gain', 'shape', 'dull']);
  const worth = (name: string, text: string) =>
    resolveSetting(params[name], parseSetting(params[name], text, timing.meter), timing, 48000);
  expect(worth('time', '1/8d')).toBeCloseTo((0.75 * 60) / 93, 12);
  expect(worth('tone', '1 kHz')).toBe(1000);
  expect(worth('shape', 'sine')).toBe('sine');
  expect(
    Object.values(params).map((param) => printSetting(param, param.type === 'sound' ? '' : param.default)),
  ).toEqual(['1/8', '50 %', '2.5 kHz', '−6 dB', 'saw', 'on']);
  expect(describeRange(params['time'])).toBe('1 ms to 2 s');
  expect(params['gain']).toMatchObject({ fixed: true, min: -60, max: 12 });
});

test.each([
  [
    HEAD.replace('language = 1', 'language = 2'),
    /line 1, column 25: The script begins with: export const language = 1/,
  ],
  [HEAD.replace("'time'", "'times'"), /There is no family times; there are time, space/],
  [HEAD.replace(/export const title.*\n/, ''), /export const title/],
  [HEAD.replace("['slapback', 'double']", "['slapback', 3]"), /Keywords are texts/],
  [`${HEAD}export const params = { a: 3 };`, /A setting is one of time, rate/],
  [`${HEAD}export const params = { a: sound({ default: 1, doc: 'x' }) };`, /A setting is one of time, rate/],
  [`${HEAD}export const params = { a: ratio({ default: 0.5 }) };`, /Say in a sentence/],
  [`${HEAD}export const params = { a: ratio({ default: 3, doc: 'x' }) };`, /outside of 0 to 1/],
  [`${HEAD}export const params = { a: time({ default: '1 s', min: '1 ms', doc: 'x' }) };`, /A time needs max/],
  [`${HEAD}export const params = { a: time({ default: 'soon', min: 0, max: 1, doc: 'x' }) };`, /soon/],
  [`${HEAD}export const params = { a: number({ default: 1, min: 2, max: 1, doc: 'x' }) };`, /min lies below max/],
  [`${HEAD}export const params = { constructor: ratio({ default: 1, doc: 'x' }) };`, /is no name for a setting/],
  [
    `${HEAD}export const params = { a: ratio({ default: 1, doc: 'x' }), a: ratio({ default: 1, doc: 'x' }) };`,
    /two settings a/,
  ],
  [`${HEAD}export const params = { a: choice(['one'], { doc: 'x' }) };`, /two words or more/],
  [`${HEAD}export const params = { a: ratio({ default: 1, size: 3, doc: 'x' }) };`, /size is nothing that is said/],
])('%#: what is wrong is named', (text, message) => {
  let fault: unknown;
  try {
    readHeader(parseScript(text));
  } catch (error) {
    fault = error;
  }
  expect(fault).toBeInstanceOf(ScriptError);
  expect((fault as ScriptError).faults.join('\n')).toMatch(message);
});
