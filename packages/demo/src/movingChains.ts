import type { Draft } from './chains.ts';

const by = { author: 'Fog Museum workshop', licence: 'CC0-1.0' };

/** Presets in which something moves by itself, is drawn over time, or is played by a panel. */
export const MOVING_CHAINS: readonly Draft[] = [
  {
    name: 'Lighthouse',
    stages: [
      { id: 'beam', kind: 'filter', name: 'Beam', level: -2.5, settings: { type: 'low', cutoff: 1400, resonance: 2 } },
      { id: 'turn', kind: 'pan', name: 'Turn' },
      { id: 'tower', kind: 'hall', name: 'Tower', mix: 0.25, settings: { decay: { beats: 3 }, lowCut: 200 } },
    ],
    modulators: [
      { id: 'lamp', kind: 'lfo', name: 'Lamp', settings: { rate: { bars: 1 }, wave: 'sine' } },
      { id: 'haze', kind: 'lfo', name: 'Haze', settings: { rate: { beats: 6 }, wave: 'drift', fadeIn: { beats: 2 } } },
    ],
    routes: [
      { id: 'r1', from: 'lamp', to: 'turn.pan', depth: 0.4 },
      { id: 'r2', from: 'lamp', to: 'beam.cutoff', depth: 0.22 },
      { id: 'r3', from: 'haze', to: 'lamp.rate', depth: 0.06 },
      { id: 'r4', from: 'haze', to: 'tower.mix', depth: 0.1, polarity: 'up' },
    ],
    panel: [
      {
        id: 'distance',
        name: 'Distance',
        note: 'How far out at sea the light is heard: darker, and more of the tower around it.',
        words: ['at the rail', 'in the bay', 'out at sea', 'beyond the fog'],
        default: 25,
        value: 25,
        drives: [
          { target: 'beam.cutoff', from: 5000, to: 500 },
          { target: 'tower.mix', from: 0.05, to: 0.7 },
        ],
      },
      {
        id: 'sharpness',
        name: 'Sharpness',
        note: 'How narrow the beam is.',
        default: 40,
        value: 40,
        drives: [{ target: 'beam.resonance', from: 0.7, to: 4.5 }],
      },
    ],
    render: { tail: { mode: 'auto', below: -70 }, name: '{sound} – lighthouse' },
    about: {
      summary: 'A beam that turns once a bar: it passes from side to side, and is brightest in the middle of its way.',
      kind: 'movement',
      character: ['turning', 'wide'],
      tags: ['lfo', 'panel'],
      rating: 4,
      ...by,
      notes: 'The haze lets the lamp run a little unevenly. Take its route to *rate* away for a strict bar.\n',
    },
  },
  {
    name: 'Breathing Fog',
    stages: [
      { id: 'fog', kind: 'hall', name: 'Fog', mix: 0.6, settings: { decay: { beats: 6 }, size: 1.5, lowCut: 250 } },
      { id: 'air', kind: 'equaliser', name: 'Air' },
    ],
    modulators: [
      {
        id: 'breath',
        kind: 'follower',
        name: 'Breath',
        settings: { attack: 0.02, release: 0.35, floor: -38, ceiling: -4 },
      },
    ],
    routes: [{ id: 'r1', from: 'breath', to: 'fog.mix', depth: -0.55, polarity: 'up', smoothing: 0.02 }],
    panel: [
      {
        id: 'thickness',
        name: 'Thickness',
        note: 'How much fog comes in when nobody speaks.',
        default: 60,
        value: 60,
        drives: [{ target: 'fog.mix', from: 0, to: 1 }],
      },
      {
        id: 'depth',
        name: 'Depth',
        note: 'How long it hangs.',
        words: ['a moment', 'a bar', 'two bars'],
        default: 50,
        value: 50,
        drives: [{ target: 'fog.decay', from: { beats: 2 }, to: { beats: 12 } }],
      },
    ],
    render: { tail: { mode: 'auto', below: -70 }, name: '{sound} – breathing fog' },
    about: {
      summary: 'A hall that draws back while there is speech, and fills the gaps.',
      kind: 'hall',
      character: ['soft', 'clear'],
      tags: ['follower', 'voice', 'panel'],
      rating: 4,
      ...by,
      notes: 'The follower hears the voice before the hall and takes the mix down by as much as it is loud.\n',
    },
  },
  {
    name: 'Bad Line',
    stages: [
      { id: 'line', kind: 'filter', name: 'Line', settings: { type: 'band', cutoff: 1600, resonance: 1.4 } },
      { id: 'carbon', kind: 'drive', name: 'Carbon', settings: { shape: 'hard', amount: 14, threshold: -12 } },
    ],
    lanes: [
      {
        target: 'line.mix',
        curve: {
          over: 'clip',
          points: [
            { at: 0, value: 0, bend: 0 },
            { at: 0.25, value: 0, bend: 0.4 },
            { at: 0.45, value: 1, bend: 0 },
            { at: 0.8, value: 1, bend: -0.4 },
            { at: 1, value: 0, bend: 0 },
          ],
        },
      },
      {
        target: 'carbon.mix',
        curve: {
          over: 'clip',
          points: [
            { at: 0.3, value: 0, bend: 0 },
            { at: 0.5, value: 0.8, bend: 0 },
            { at: 0.75, value: 0.8, bend: 0 },
            { at: 0.95, value: 0, bend: 0 },
          ],
        },
      },
    ],
    render: { tail: { mode: 'auto', below: -70 }, name: '{sound} – bad line' },
    about: {
      summary: 'A sentence that goes over into a bad telephone line and comes back before its end.',
      kind: 'radio',
      character: ['thin', 'rough'],
      tags: ['lanes', 'voice'],
      rating: 3,
      ...by,
      notes: 'Both lanes are drawn over shares of the clip, so they fit any sentence.\n',
    },
  },
  {
    name: 'Winch',
    stages: [
      {
        id: 'drum',
        kind: 'tapeStop',
        name: 'Drum',
        level: -1.5,
        settings: { stop: false, wait: 0, time: { beats: 1 }, after: 'it stays silent', again: 0 },
      },
      { id: 'cable', kind: 'pan', name: 'Cable' },
    ],
    modulators: [
      {
        id: 'ratchet',
        kind: 'sequence',
        name: 'Ratchet',
        settings: { steps: [1, -1, 0.5, -0.5, 0, 1, 0, -1], rate: { note: '1/8' }, glide: 0.2 },
      },
    ],
    routes: [{ id: 'r1', from: 'ratchet', to: 'cable.pan', depth: 0.3 }],
    lanes: [
      {
        target: 'drum.stop',
        curve: {
          over: 'beats',
          points: [
            { at: 0, value: 0, bend: 0 },
            { at: 3, value: 1, bend: 0 },
            { at: 4, value: 0, bend: 0 },
            { at: 7, value: 1, bend: 0 },
          ],
        },
      },
    ],
    render: { tail: { mode: 'none' }, name: '{sound} – winch' },
    about: {
      summary: 'Stops like a winch on every fourth beat and pulls off again on the next bar.',
      kind: 'stop',
      character: ['mechanical', 'rhythmic'],
      tags: ['lanes', 'stop', 'steps'],
      rating: 4,
      ...by,
      notes: 'The switch of the stop is drawn in beats; move its breakpoints to stop elsewhere.\n',
    },
  },
];
