/** All that a script may say, each with a sentence: for the completion of an editor and for the documents. */
import { GIVEN_FUNCTIONS, GIVEN_UNITS, GIVEN_VALUES } from './givenUnits.ts';
import { MATH } from './words.ts';

export interface ScriptWord {
  /** What is typed. */
  readonly name: string;
  /** How it is written, with what it takes. */
  readonly written: string;
  readonly says: string;
  /** Where it may stand: in the first lines, among the settings, anywhere in functions, or behind a unit’s name. */
  readonly place: 'header' | 'setting' | 'unit' | 'value' | 'Math' | 'behind a unit';
}

const HEADER: readonly (readonly [name: string, written: string, says: string])[] = [
  ['language', 'export const language = 1;', 'The version of the language. It stands in every script.'],
  ['title', "export const title = '…';", 'What the stage is called.'],
  [
    'family',
    "export const family = 'time';",
    'Where it stands: time, space, motion, tone, drive, dynamics, pitch, grain, clip or plumbing.',
  ],
  ['summary', "export const summary = '…';", 'One sentence: what it does to a sound.'],
  ['keywords', "export const keywords = ['…'];", 'What one may type to find it.'],
  ['params', 'export const params = { amount: ratio({ … }) };', 'Its settings by their names, which `p.amount` reads.'],
  [
    'groups',
    "export const groups = { 'tone': ['cutoff'] };",
    'Its settings by what they are about; each in one group.',
  ],
  [
    'tail',
    'export const tail = (p) => p.time;',
    'Seconds that it rings on when the sound has ended; may be Infinity. Left out: as long as its lines.',
  ],
  ['latency', 'export const latency = 64;', 'Samples by which it is late by its own working; the others wait for it.'],
  [
    'mixLaw',
    "export const mixLaw = 'equal-power';",
    'How dry and wet are weighed: linear, or with equal power where they are unlike.',
  ],
  ['firstMix', 'export const firstMix = 0.5;', 'The mix that it has when it is added.'],
  [
    'channel',
    'export function channel() { return (x, p) => x; }',
    'What is done for each sample of each channel. The outer part runs once for each side and takes all memory.',
  ],
  [
    'pair',
    'export function pair() { return (left, right, p) => [left, right]; }',
    'The same for both sides at once; a mono sound becomes stereo.',
  ],
  [
    'clip',
    'export function clip(sound, out, p) { … }',
    'What is done once to a whole sound. It has sound.frames, sound.sides, sound.start and sound.end; out.frames is how long the result is.',
  ],
  [
    'frames',
    'export const frames = (sound, p) => 2 * sound.frames;',
    'Of a clip: how many frames come out. Left out: as many as come in.',
  ],
  [
    'origin',
    'export const origin = (sound, p) => -sound.frames;',
    'Of a clip: where the result begins, in frames from the first of the sound. Left out: 0.',
  ],
];

const SETTINGS: readonly (readonly [name: string, written: string, says: string])[] = [
  [
    'time',
    "time({ default: '1/8', min: '1 ms', max: '2 s', doc: '…' })",
    'A length, in seconds; may follow the tempo.',
  ],
  ['rate', "rate({ default: 2, min: 0.1, max: 20, doc: '…' })", 'How often a second; may follow the tempo.'],
  ['level', "level({ default: 0, min: -60, max: 12, doc: '…' })", 'Decibels; `dB` makes a factor of them.'],
  ['ratio', "ratio({ default: 0.5, doc: '…' })", 'A share from 0 to 1, shown in percent; min and max may be others.'],
  ['semitones', "semitones({ default: 0, min: -12, max: 12, doc: '…' })", 'A pitch; `ratioOf` makes a ratio of it.'],
  ['frequency', "frequency({ default: 1000, min: 20, max: 20000, doc: '…' })", 'Hertz, on a scale by octaves.'],
  ['degrees', "degrees({ default: 0, min: -180, max: 180, doc: '…' })", 'An angle or phase.'],
  ['number', "number({ default: 4, min: 1, max: 16, doc: '…' })", 'A number without a unit.'],
  ['key', "key({ default: 60, min: 24, max: 108, doc: '…' })", 'A key, as MIDI counts them.'],
  ['choice', "choice(['soft', 'hard'], { default: 'soft', doc: '…' })", "One of some words: p.shape === 'soft'."],
  ['toggle', "toggle({ default: true, doc: '…' })", 'On or off: true or false.'],
];

const MATH_SAYS: Readonly<Record<string, string>> = {
  abs: 'The number without its sign.',
  min: 'The least of some numbers.',
  max: 'The greatest of some numbers.',
  floor: 'The next whole number below.',
  ceil: 'The next whole number above.',
  round: 'The nearest whole number; halves go up.',
  trunc: 'The whole number towards 0.',
  sign: '−1, 0 or 1.',
  sqrt: 'The square root.',
  exp: 'e to the power of the number.',
  log: 'The natural logarithm.',
  log2: 'The logarithm to base 2.',
  log10: 'The logarithm to base 10.',
  pow: 'The first number to the power of the second.',
  sin: 'The sine of an angle in radians.',
  cos: 'The cosine of an angle in radians.',
  tan: 'The tangent of an angle in radians.',
  tanh: 'The hyperbolic tangent: a soft clip from −1 to 1.',
  asin: 'The arc sine, in radians.',
  acos: 'The arc cosine, in radians.',
  atan: 'The arc tangent, in radians.',
  atan2: 'The angle of a point, by y and x.',
  hypot: 'The length of a vector.',
  fround: 'The nearest number of 32 bits.',
};

export const SCRIPT_WORDS: readonly ScriptWord[] = [
  ...HEADER.map(([name, written, says]) => ({ name, written, says, place: 'header' }) as const),
  ...SETTINGS.map(([name, written, says]) => ({ name, written, says, place: 'setting' }) as const),
  ...Object.entries(GIVEN_VALUES).map(
    ([name, { written, says }]) =>
      ({ name, written, says, place: name === 'array' || name === 'delayLine' ? 'unit' : 'value' }) as const,
  ),
  ...Object.entries(GIVEN_FUNCTIONS).map(
    ([name, { takes, says }]) => ({ name, written: `${name}(${takes.join(', ')})`, says, place: 'value' }) as const,
  ),
  ...Object.entries(GIVEN_UNITS).flatMap(([name, { takes, says, functions }]): ScriptWord[] => {
    const written = takes.map((one) =>
      typeof one.takes === 'string' ? (one.takes === 'function' ? '(x) => …' : one.name) : `'${one.takes[0]}'`,
    );
    const words = takes.flatMap((one) =>
      typeof one.takes === 'string' ? [] : [`It is one of ${one.takes.join(', ')}.`],
    );
    const calls = Object.entries(functions).map(
      ([key, { takes: args, says: what }]) =>
        `${key === '' ? 'Called' : `.${key}`}(${args.join(', ')}): ${what[0].toLowerCase()}${what.slice(1)}`,
    );
    return [
      { name, written: `${name}(${written.join(', ')})`, says: [says, ...words, ...calls].join(' '), place: 'unit' },
      ...Object.entries(functions)
        .filter(([key]) => key !== '')
        .map(([key, { takes: args, says: what }]) => ({
          name: key,
          written: `.${key}(${args.join(', ')})`,
          says: what,
          place: 'behind a unit' as const,
        })),
    ];
  }),
  {
    name: 'read',
    written: '.read(seconds)',
    says: 'What went into a line so many seconds ago.',
    place: 'behind a unit',
  },
  { name: 'write', written: '.write(x)', says: 'Puts a sample into a line.', place: 'behind a unit' },
  {
    name: 'read',
    written: 'sound.read(side, frame)',
    says: 'A sample of a whole sound, between two of them by a cubic; 0 outside.',
    place: 'behind a unit',
  },
  {
    name: 'write',
    written: 'out.write(side, frame, y)',
    says: 'Puts a sample into what comes out; outside nothing is written.',
    place: 'behind a unit',
  },
  ...[...MATH].map((name) => ({ name, written: `Math.${name}(…)`, says: MATH_SAYS[name], place: 'Math' }) as const),
  { name: 'PI', written: 'Math.PI', says: 'Half the way round a circle of radius 1.', place: 'Math' },
];
