/** What is drawn of scripts, against what they do. */
import { beforeAll, expect, test } from 'vitest';
import { BUILT_INS } from '../catalogue/builtIns.ts';
import { withScriptStage } from '../chain/scripts.ts';
import { emptyChain } from '../chain/validate.ts';
import { resolvedValues } from '../pictures/pictureOf.ts';
import { EXAMPLE_TEXTS } from './exampleTexts.ts';
import { learnScripts } from './learnScripts.ts';
import { SCRIPT_LANGUAGE } from './scriptLanguage.ts';
import { impulsePicture, responsePicture } from './scriptPicture.ts';

beforeAll(learnScripts);

function drawn(text: string, settings: object = {}) {
  const { chain, stage } = withScriptStage(BUILT_INS, emptyChain(BUILT_INS, 'Own'), {
    language: SCRIPT_LANGUAGE,
    text,
  });
  const catalogue = BUILT_INS.for(chain);
  const own = { ...stage, settings: { ...stage.settings, ...settings } };
  const definition = catalogue.of(own);
  if (definition.runs !== 'live') throw new Error('of live stages only');
  const values = resolvedValues(catalogue, own, chain.timing);
  const [{ title, curves }, impulse] = [responsePicture(definition, values), impulsePicture(definition, values)];
  const { points } = curves[0];
  /** Decibels at the frequency that is drawn nearest. */
  const at = (hertz: number) => {
    let best = 0;
    for (let n = 0; n < points.length; n += 2)
      if (Math.abs(points[n] - hertz) < Math.abs(points[best] - hertz)) best = n;
    return points[best + 1];
  };
  return { title, at, click: impulse.curves[0].points };
}
const script = (body: string) => `export const language = 1;
export const title = 'Trial';
export const family = 'tone';
export const summary = 'A trial.';
export function channel() { ${body} }`;

test('a filter stands as it is: one click says it', () => {
  const { title, at } = drawn(script("const low = filter('lowpass'); return (x) => low(x, 1000, 0.7071);"));
  expect(title).toContain('measured with a click');
  expect(at(1000)).toBeCloseTo(-3, 0);
  expect(at(2000) - at(4000)).toBeCloseTo(12, 0);
  expect(at(50)).toBeCloseTo(0, 1);
});

test('what changes over time is drawn by its mean: half of the power is left of a ring, whatever its tone', () => {
  for (const pitch of [50, 220, 1234]) {
    const { title, at } = drawn(EXAMPLE_TEXTS['ringModulator'], { pitch });
    expect(title).toContain('changes over time');
    for (const hertz of [40, 500, 12_000]) expect(Math.abs(at(hertz) + 3)).toBeLessThan(3);
  }
});

test('what rings longer than a third of a second has a response, too', () => {
  const { title, at } = drawn(EXAMPLE_TEXTS['darkeningRepeats'], { time: 0.7, feedback: 0.5, tone: 1000 });
  expect(title).toContain('measured with a click');
  // Power of the repeats at low tones, 1 + 1/4 + 1/16 …, and at tones that the filter takes away, of the first alone.
  expect(at(300)).toBeCloseTo(10 * Math.log10(1 / (1 - 0.25 / (1 + 0.09))), 0);
  expect(at(15_000)).toBeCloseTo(0, 0);
});

test('a click is drawn as what it becomes: as a repeat, later; of a ring not nothing', () => {
  const { click } = drawn(EXAMPLE_TEXTS['repeat'], { time: 0.3, amount: 0.4 });
  const places = click.flatMap((y, n) => (n % 2 === 1 && Math.abs(y) > 0.1 ? [[click[n - 1], y]] : []));
  expect(places.map(([, y]) => Number(y.toFixed(3)))).toEqual([1, 0.4]);
  expect(places[1][0]).toBeCloseTo(0.3, 2);
  expect(Math.max(...drawn(EXAMPLE_TEXTS['ringModulator']).click.map(Math.abs))).toBeGreaterThan(0.3);
});

test('what sounds by itself is not taken for a response', () => {
  const { title, at } = drawn(script('return (x) => 0.5 * x + 0.3 * noise();'));
  expect(title).toContain('measured with a click');
  for (const hertz of [40, 500, 12_000]) expect(at(hertz)).toBeCloseTo(-6.02, 1);
});
