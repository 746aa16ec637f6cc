/** `docs/values.md` is the grammar of what is typed: every line of its tables is tried, and all that it refuses. */
import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { BUILT_INS } from '../catalogue/builtIns.ts';
import { InputError } from '../model/errors.ts';
import { isScaled, parseSetting, printSetting, type Param, type SettingValue } from '../params/params.ts';
import { degrees, frequency, key, level, rate, ratio, semitones, time } from '../params/params.ts';
import { MODULATORS } from '../modulation/modulators/index.ts';
import { settingAt } from '../params/settingPlace.ts';

const wide = { default: 0, min: -1e4, max: 1e5, doc: '' };
const FIELDS: Record<string, Param> = {
  Times: time(wide),
  Rates: rate(wide),
  Frequencies: frequency(wide),
  Levels: level(wide),
  Percentages: ratio(wide),
  Intervals: semitones(wide),
  Degrees: degrees(wide),
  Notes: key(wide),
};

const text = readFileSync(new URL('../../../../docs/values.md', import.meta.url), 'utf8');
const sections = text.split(/^## /m).slice(1);
const inTicks = (line: string) => [...line.matchAll(/`([^`]+)`/g)].map(([, inside]) => inside);

for (const section of sections) {
  const [title] = section.split('\n');
  const rows = section.split('\n').filter((line) => /^\|.*`/.test(line));
  describe(title, () => {
    expect(rows.length).toBeGreaterThan(0);
    test.each(rows)('%s', (row) => {
      const [typed, read] = inTicks(row);
      const [, kind, parameter] = /^\| (\w+)\.(\w+) *\|/.exec(row) ?? [];
      const param = kind ? BUILT_INS.of({ kind }).params[parameter] : FIELDS[title];
      expect(printSetting(param, parseSetting(param, typed))).toBe(read);
      // Again as it was printed, and with the other minus sign.
      expect(printSetting(param, parseSetting(param, read))).toBe(read);
      expect(printSetting(param, parseSetting(param, ` ${read.replace('\u2212', '-').toUpperCase()} `))).toBe(read);
    });
    const refused = /^Refused: (.*)$/m.exec(section)?.[1] ?? '';
    test.each(inTicks(refused))('refuses %s', (typed) => {
      expect(() => parseSetting(FIELDS[title], typed)).toThrow(InputError);
    });
  });
}

test('beats are those of the meter', () => {
  expect(parseSetting(FIELDS.Times, '3 bars 2 beats', [6, 8])).toEqual({ beats: 20 });
});

describe('what is printed is read as the same, on every scale', () => {
  const owners = [...BUILT_INS.stages, ...MODULATORS];
  test.each(owners.map((owner) => [owner.kind, owner.params] as const))('%s', (_kind, params) => {
    for (const [name, param] of Object.entries<Param>(params)) {
      const same = (value: SettingValue) => {
        const bare = typeof value === 'number' ? value + 0 : value; // no negative zero
        expect(parseSetting(param, printSetting(param, bare)), name).toEqual(bare);
      };
      if (param.type === 'choice') param.options.forEach(same);
      else if (param.type === 'toggle') [false, true].forEach(same);
      else if (isScaled(param)) {
        const timing = { tempo: 93, meter: [3, 4] } as const;
        for (const value of [param.default, param.min, param.max]) same(value);
        fc.assert(
          fc.property(fc.double({ min: 0, max: 1, noNaN: true }), (place) =>
            same(settingAt(param, place, param.default, timing)),
          ),
          { numRuns: 60, endOnFailure: true },
        );
        fc.assert(
          fc.property(fc.double({ min: param.min, max: param.max, noNaN: true }), (value) => same(value)),
          { numRuns: 60, endOnFailure: true },
        );
      }
    }
  });
});

test('reading takes time in proportion to its length, and names no more than a word of it', () => {
  for (const field of Object.values(FIELDS))
    for (const long of ['1 octave '.repeat(22), '1'.repeat(200), '1,'.repeat(100), ' '.repeat(200), '1 '.repeat(99)])
      try {
        parseSetting(field, long);
      } catch (error) {
        expect(error).toBeInstanceOf(InputError);
      }
});
