import fc from 'fast-check';
import { expect, test } from 'vitest';
import { writeMidi, type MidiEvent } from 'midi-file';
import { carriedOver, scaledInTime, scaledInValue, snapped } from '../modulation/laneEdits.ts';
import type { Breakpoints, Curve } from '../modulation/curve.ts';
import { lanesFromCsv, lanesToCsv } from './laneCsv.ts';
import { parseNotes, printNotes } from '../modulation/notes.ts';
import { readMidiLanes } from './midiLanes.ts';
import { readMidiNotes } from './midiNotes.ts';

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true }).map((x) => x + 0);

test('lanes written as CSV are read as they were', () => {
  const point = fc.record({ at: number(0, 100), value: number(-96, 20000), bend: number(-1, 1) });
  const curve = fc.record({
    over: fc.constantFrom('clip', 'seconds', 'beats'),
    points: fc.array(point, { minLength: 1, maxLength: 20 }),
  });
  fc.assert(
    fc.property(
      fc.uniqueArray(fc.constantFrom('hall.decay', 'a "wet", b.mix', 'a;b\n.pan'), { minLength: 1 }),
      fc.array(curve, { minLength: 3, maxLength: 3 }),
      (targets, curves) => {
        const lanes = targets.map((target, n) => {
          const drawn = curves[n] as Curve;
          return { target, curve: { ...drawn, points: [...drawn.points].sort((a, b) => a.at - b.at) } };
        });
        expect(lanesFromCsv(lanesToCsv(lanes))).toEqual(lanes);
      },
    ),
  );
});

test.each([
  ['as written here', 'target,over,at,value,bend\r\nhall.mix,clip,0,-0.5,0\r\nhall.mix,clip,1,2.25,0.5\r\n'],
  ['with a byte order mark', '\uFEFFtarget,over,at,value,bend\nhall.mix,clip,0,-0.5,0\nhall.mix,clip,1,2.25,0.5'],
  [
    'every cell in quotes',
    '"target","over","at","value","bend"\n"hall.mix","clip","0","-0.5","0"\n"hall.mix","clip","1","2.25","0.5"',
  ],
  [
    'decimal commas between semicolons',
    'target;over;at;value;bend\nhall.mix;clip;0;-0,5;0\nhall.mix;clip;1;2,25;0,5\n',
  ],
  ['decimal commas in quotes', 'target,over,at,value,bend\nhall.mix,clip,0,"-0,5",0\nhall.mix,clip,1,"2,25","0,5"\n'],
  [
    'tabs, and columns in another order',
    'bend\tvalue\tat\ttarget\tover\n0\t-0,5\t0\thall.mix\tclip\n0,5\t2,25\t1\thall.mix\tclip\n',
  ],
  [
    'empty lines and a minus as it is printed',
    'target,over,at,value,bend\n\nhall.mix , CLIP,0,\u22120.5,\n,,,,\nhall.mix,clip,1,2.25,.5\n',
  ],
])('a spreadsheet’s file is read: %s', (_, text) =>
  expect(lanesFromCsv(text)).toEqual([
    {
      target: 'hall.mix',
      curve: {
        over: 'clip',
        points: [
          { at: 0, value: -0.5, bend: 0 },
          { at: 1, value: 2.25, bend: 0.5 },
        ],
      },
    },
  ]),
);

test.each([
  ['target;over;at;value\na.b;clip;0;1.234,5', 'Line 2: value is "1.234,5"; a number is needed.'],
  ['target,over,at,value\na.b,clip,0,"1', 'Line 2: a cell in quotes does not end'],
  [
    '',
    'The first line has to name the columns target, over, at, value, bend; target and over and at and value are missing.',
  ],
  ['target,over,at,value\n', 'has no breakpoint'],
  ['target,over,at,value\na.b,clip,x,1', 'Line 2: at is "x"; a number is needed.'],
  ['target,over,at,value\na.b,weeks,0,1', 'Line 2: over is "weeks"; allowed are clip, seconds, beats.'],
  [
    'target,over,at,value\na.b,clip,0,1\na.b,beats,1,1',
    'Line 3: the lane of "a.b" counts clip and here beats; one is allowed.',
  ],
])('a faulty file is refused by its line: %s', (text, message) => expect(() => lanesFromCsv(text)).toThrow(message));

test('controllers, bends and pressure of a MIDI file become lanes in quarter notes, standing between events', () => {
  const event = (deltaTime: number, rest: object) => ({ deltaTime, ...rest }) as MidiEvent;
  const bytes = Uint8Array.from(
    writeMidi({
      header: { format: 0, numTracks: 1, ticksPerBeat: 480 },
      tracks: [
        [
          event(0, { type: 'controller', channel: 0, controllerType: 74, value: 0 }),
          event(240, { type: 'controller', channel: 0, controllerType: 74, value: 127 }),
          event(240, { type: 'pitchBend', channel: 0, value: 8191 }),
          event(480, { type: 'controller', channel: 0, controllerType: 74, value: 64 }),
          event(0, { meta: true, type: 'endOfTrack' }),
        ],
      ],
    }),
  );
  const [controller, bend] = readMidiLanes(bytes);
  expect(controller.name).toBe('controller 74, channel 1');
  expect(controller.points.map(({ at, value }) => [at, Number(value.toFixed(3))])).toEqual([
    [0, 0],
    [0.5, 0],
    [0.5, 1],
    [2, 1],
    [2, 0.504],
  ]);
  expect(bend).toMatchObject({ name: 'bend, channel 1', points: [{ at: 1, value: 1 }] });
});

test('notes of a MIDI file: when, how long, how high, how hard; one left open ends with the file', () => {
  const event = (deltaTime: number, rest: object) => ({ deltaTime, channel: 0, ...rest }) as unknown as MidiEvent;
  const bytes = Uint8Array.from(
    writeMidi({
      header: { format: 0, numTracks: 1, ticksPerBeat: 480 },
      tracks: [
        [
          event(480, { type: 'noteOn', noteNumber: 60, velocity: 127 }),
          event(120, { type: 'channelAftertouch', amount: 127 }),
          event(120, { type: 'noteOff', noteNumber: 60, velocity: 0 }),
          event(240, { type: 'noteOn', noteNumber: 67, velocity: 64 }),
          event(480, { meta: true, type: 'endOfTrack' }),
        ],
      ],
    }),
  );
  const notes = readMidiNotes(bytes);
  expect(notes).toEqual([
    { at: 1, length: 0.5, key: 60, velocity: 1, pressure: 1 },
    { at: 2, length: 1, key: 67, velocity: 64 / 127, pressure: 0 },
  ]);
  expect(parseNotes(printNotes(notes))[0]).toEqual(notes[0]);
});

test('notes in writing are read as they were; a faulty one is refused with an example', () => {
  const share = fc.integer({ min: 0, max: 100 }).map((percent) => percent / 100);
  const note = fc.record({
    at: fc.integer({ min: 0, max: 64 }),
    length: fc.constantFrom(0.25, 1, 2.5),
    key: fc.integer({ min: 0, max: 127 }),
    velocity: share,
    pressure: share,
  });
  fc.assert(
    fc.property(fc.array(note, { maxLength: 8 }), (any) => {
      const notes = any.sort((a, b) => a.at - b.at);
      expect(parseNotes(printNotes(notes))).toEqual(notes);
    }),
  );
  for (const wrong of ['C3', '0 C3', '0:1 H3', '0:1 C3 101']) expect(() => parseNotes(wrong)).toThrow(/0:1 C3/);
});

test('a drawn curve is moved, stretched, brought to a grid and to another scale as a whole', () => {
  const curve: Breakpoints = {
    over: 'beats',
    points: [
      { at: 1, value: 0, bend: 0.5 },
      { at: 2.1, value: 10, bend: 0 },
    ],
  };
  const frame = { min: 0, max: 12, length: 8 };
  const places = (after: Breakpoints) => after.points.map(({ at, value }) => [Number(at.toFixed(6)), value]);
  expect(places(scaledInTime(curve, 2, 1, frame))).toEqual([
    [2, 0],
    [4.2, 10],
  ]);
  expect(places(scaledInTime(curve, 10, 0, frame))).toEqual([
    [1, 0],
    [8, 10],
  ]);
  expect(places(scaledInValue(curve, 0.5, 4, frame))).toEqual([
    [1, 6.5],
    [2.1, 11.5],
  ]);
  expect(places(snapped(curve, 0.25))).toEqual([
    [1, 0],
    [2, 10],
  ]);
  expect(
    places(
      carriedOver(
        curve,
        (value) => value / 12,
        (place) => 100 * place,
      ),
    )[1][1],
  ).toBeCloseTo(83.3, 1);
});
