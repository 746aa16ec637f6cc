import type { Draft } from './chains.ts';

const AUTHOR = { author: 'Fog Museum workshop', licence: 'CC0-1.0' };
const render = (name: string, tail: object = { mode: 'auto', below: -80 }) => ({
  tail,
  anchor: 'source',
  name: `{sound} – ${name}`,
});
const line = (...points: (readonly [at: number, value: number, bend?: number])[]) => ({
  over: 'clip',
  points: points.map(([at, value, bend = 0]) => ({ at, value, bend })),
});

/** What the museum makes out of whole clips: pulses, textures, steady notes, swells. */
export const CLIP_CHAINS: readonly Draft[] = [
  {
    name: 'Falling Glass',
    stages: [
      {
        id: 'fall',
        kind: 'bend',
        name: 'The fall',
        settings: { speed: line([0, 24], [1, -24]), times: 3, length: 'kept' },
      },
      { id: 'rumble', kind: 'filter', name: 'No rumble', settings: { type: 'high', cutoff: 90, slope: '24 dB/oct' } },
      { id: 'edges', kind: 'trim', name: 'Edges', settings: { below: -48, fade: 0.01 } },
      { id: 'even', kind: 'normalise', name: 'Even', settings: { measure: 'true peak', to: -1.5 } },
    ],
    render: render('falling', { mode: 'none' }),
    about: {
      summary: 'A steady ambience becomes a falling pulse: bent three times from two octaves up to two octaves down.',
      kind: 'impact',
      character: ['falling', 'electric'],
      tags: ['bend', 'pulse', 'loop'],
      rating: 5,
      notes: 'Mark a sustain loop on the render in *Sounds*, then let it go with a release loop.\n',
      ...AUTHOR,
    },
  },
  {
    name: 'Anchor Drop',
    stages: [
      { id: 'drop', kind: 'bend', name: 'Drop', settings: { speed: line([0, 0], [0.88, 0], [1, -24, 0.25]) } },
      { id: 'chain', kind: 'drive', name: 'Chain', mix: 0.3, settings: { shape: 'soft', amount: 9, tone: 4000 } },
      { id: 'still', kind: 'fades', name: 'Still', settings: { fadeOut: 0.03, outCurve: 's-shaped' } },
    ],
    render: render('anchor'),
    about: {
      summary: 'The last of a phrase goes down by two octaves, as if let go.',
      kind: 'bend',
      character: ['heavy', 'falling'],
      tags: ['bass', 'bend', 'ending'],
      rating: 4,
      notes:
        'Drag the second breakpoint to where the fall begins. Lift the *bend* of the last segment for a later fall.\n',
      ...AUTHOR,
    },
  },
  {
    name: 'Wave on Wave',
    stages: [
      {
        id: 'waves',
        kind: 'slices',
        name: 'Waves',
        mix: 0.7,
        settings: { by: 'grid', grid: { beats: 2 }, fade: 0.012 },
        branches: [
          {
            id: 'wave',
            name: 'Each wave',
            stages: [
              { id: 'turn', kind: 'reverse' },
              { id: 'water', kind: 'hall', name: 'Water', mix: 0.8, settings: { decay: { beats: 3 }, lowCut: 200 } },
              { id: 'back', kind: 'reverse', name: 'Back' },
            ],
          },
        ],
      },
      { id: 'even', kind: 'limiter', name: 'Even', settings: { gain: 1, ceiling: -1 } },
    ],
    render: render('waves', { mode: 'fixed', length: { beats: 2 } }),
    about: {
      summary: 'Every two beats swell out of the ones before them.',
      kind: 'swell',
      character: ['breathing', 'wide'],
      tags: ['slices', 'reverse', 'chords'],
      rating: 5,
      notes: 'Cut *by attacks* for a swell into each hit, or *by hand* for one into each chord.\n',
      ...AUTHOR,
    },
  },
  {
    name: 'One-Note Horn',
    stages: [
      { id: 'breath', kind: 'silence', name: 'No breath', settings: { below: -38, least: 0.09 } },
      { id: 'note', kind: 'settlePitch', name: 'The note', settings: { scale: 'one note', note: 45, glide: 0.02 } },
      { id: 'hall', kind: 'plate', name: 'Shed', mix: 0.2, settings: { decay: 1.4 } },
    ],
    render: render('one note'),
    about: {
      summary: 'A voice that says everything on one note, and keeps its speaker.',
      kind: 'voice',
      character: ['steady', 'strange'],
      tags: ['voice', 'pitch', 'monotone'],
      rating: 4,
      notes: 'Set *pull to* a scale for a song. Leave some *movement* to keep it human.\n',
      ...AUTHOR,
    },
  },
  {
    name: 'Hours of Fog',
    stages: [
      { id: 'fog', kind: 'smear', name: 'Fog', settings: { factor: 5, window: 0.4 } },
      { id: 'dull', kind: 'filter', name: 'Thick', settings: { type: 'low', cutoff: 3200 } },
      { id: 'round', kind: 'crossfade', name: 'Round and round', settings: { length: 2 } },
      { id: 'level', kind: 'normalise', name: 'Level', settings: { measure: 'loudness', to: -20 } },
    ],
    render: render('hours of fog', { mode: 'none' }),
    about: {
      summary: 'A few seconds become a standing texture that goes round without a seam.',
      kind: 'texture',
      character: ['still', 'soft'],
      tags: ['smear', 'ambience', 'loop'],
      rating: 5,
      notes:
        'Raise *times as long* to 50 for a room that lasts all day. The render panel says first how long it gets.\n',
      ...AUTHOR,
    },
  },
  {
    name: 'Slow Ferry',
    stages: [
      { id: 'slow', kind: 'stretch', name: 'Slower', settings: { factor: 1.4, mode: 'monophonic' } },
      { id: 'low', kind: 'speed', name: 'Lower', settings: { interval: -3 } },
      { id: 'deck', kind: 'room', name: 'Deck', mix: 0.3 },
    ],
    render: render('slow ferry'),
    about: {
      summary: 'Time passes more slowly on deck: stretched, then let down a little in speed.',
      kind: 'slow',
      character: ['heavy', 'dreamy'],
      tags: ['stretch', 'speed', 'voice', 'drums'],
      rating: 3,
      notes: 'For drums set the *mode* to drums, so that every stroke stays one stroke.\n',
      ...AUTHOR,
    },
  },
];
