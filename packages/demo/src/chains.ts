import { BUILT_INS } from '@hexenkessel/core/stages';
import { CHAIN_FORMAT, CHAIN_VERSION, parseChain, type ChainDocument } from '@hexenkessel/core/chain';
import { CLIP_CHAINS } from './clipChains.ts';
import { MORE_CHAINS } from './moreChains.ts';
import { MOVING_CHAINS } from './movingChains.ts';
import { madeOn } from './madeOn.ts';
import { withPanel } from './panels.ts';
import { MUSEUM_TEMPO } from './synth.ts';

const base = { format: CHAIN_FORMAT, version: CHAIN_VERSION, timing: { tempo: MUSEUM_TEMPO } };

/** A chain as it is written here: what is left out is filled in. */
export type Draft = Readonly<Record<string, unknown>> & { readonly name: string };

/** The presets that the museum opens with. */
export const DEMO_CHAINS: readonly ChainDocument[] = [
  {
    name: 'Tide Turning',
    stages: [
      { id: 'flip', kind: 'reverse' },
      {
        id: 'hall',
        kind: 'hall',
        note: 'Wet alone: the swell must not carry the backwards sound itself.',
        settings: { decay: { beats: 8 }, lowCut: 420, highDecay: 0.8, preDelay: 0 },
      },
      { id: 'flip2', kind: 'reverse', name: 'Reverse back' },
    ],
    render: { tail: { mode: 'fixed', length: { beats: 8 } }, anchor: 'end', name: '{sound} – tide' },
    about: {
      summary: 'A swell of eight beats that rises out of the sea and ends where the sound begins.',
      kind: 'swell',
      character: ['slow', 'wide'],
      tags: ['reverse', 'transition'],
      rating: 4,
      author: 'Fog Museum workshop',
      licence: 'CC0-1.0',
      notes:
        'The hall is heard **backwards**, so it grows instead of dying away.\n\n' +
        '- *Decay* sets how early the swell is felt; keep the tail as long as the decay.\n' +
        '- Raise the *low cut* for voices, lower it for bells.\n' +
        '- Lay the render under the untouched sound: it ends on its first word.\n',
    },
  },
  {
    name: 'Storm Glass',
    stages: [
      { id: 'flip', kind: 'reverse' },
      {
        id: 'edges',
        kind: 'fades',
        settings: { fadeIn: { note: '1/8' }, fadeOut: { note: '1/4' }, outCurve: 's-shaped' },
      },
      { id: 'veil', kind: 'filter', name: 'Veil', settings: { type: 'low', cutoff: 5200, slope: '24 dB/oct' } },
      {
        id: 'hall',
        kind: 'hall',
        mix: 0.45,
        level: -1.5,
        settings: { decay: { beats: 4 }, size: 1.4, lowDecay: 1.2, movement: 0.6 },
      },
    ],
    render: { tail: { mode: 'auto', below: -70 }, anchor: 'source', name: '{sound} – storm glass' },
    about: {
      summary: 'Chords turned backwards that swell into the next bar and blur behind it.',
      kind: 'swell',
      character: ['glassy', 'dark'],
      tags: ['reverse', 'chords'],
      rating: 3,
      author: 'Fog Museum workshop',
      licence: 'CC0-1.0',
      notes: 'Made for the glass harmonica. The fades keep the ends of the turned chords from clicking.\n',
    },
  },
  {
    name: 'Copper Dome',
    stages: [
      {
        id: 'hall',
        kind: 'hall',
        mix: 0.4,
        settings: { decay: 3.2, size: 1.2, preDelay: 0.035, lowDecay: 1.15, highDecay: 0.55, lowCut: 90 },
      },
    ],
    render: { tail: { mode: 'auto', below: -80 }, anchor: 'source', name: '{sound} – dome' },
    about: {
      summary: 'The hall under the museum roof: warm, a little long, with the speaker still in front.',
      kind: 'hall',
      character: ['warm', 'large'],
      tags: ['room', 'voice'],
      rating: 5,
      author: 'Fog Museum workshop',
      licence: 'CC0-1.0',
      notes: 'A plain hall for everything that is announced. It does not follow the tempo.\n',
    },
  },
  {
    name: 'Lamp Room',
    stages: [
      {
        id: 'parts',
        kind: 'split',
        note: 'The low band stays where it is, so that drums and voices keep their footing.',
        settings: { mode: '2 bands', low: 900 },
        branches: [
          { id: 'floor', name: 'Floor', stages: [] },
          {
            id: 'glass',
            name: 'Glass',
            level: -3,
            stages: [
              {
                id: 'lamps',
                kind: 'hall',
                name: 'Lamps',
                mix: 0.55,
                settings: { decay: 0.7, size: 0.35, preDelay: 0.004, highDecay: 0.9, movement: 0.2, width: 1 },
              },
            ],
          },
        ],
      },
    ],
    render: { tail: { mode: 'auto', below: -80 }, anchor: 'source', name: '{sound} – lamp room' },
    about: {
      summary: 'A small room of glass that only the upper half of the sound is in; the low half stays dry.',
      kind: 'room',
      character: ['small', 'bright'],
      tags: ['room', 'drums', 'bands'],
      rating: 3,
      author: 'Fog Museum workshop',
      licence: 'CC0-1.0',
      notes: 'Move the crossover to choose how much of the sound stands in the room.\n',
    },
  },
  {
    name: 'Talking Kettle',
    stages: [
      { id: 'low', kind: 'filter', name: 'No rumble', settings: { type: 'high', cutoff: 180, slope: '24 dB/oct' } },
      {
        id: 'boil',
        kind: 'ringMod',
        name: 'Boil',
        mix: 0.85,
        settings: { carrier: 52, shape: 'triangle', offset: 0.15 },
      },
      { id: 'lid', kind: 'drive', name: 'Lid', settings: { shape: 'hard', amount: 18, threshold: -9, tone: 5200 } },
      { id: 'tin', kind: 'crush', name: 'Tin', mix: 0.35, settings: { bits: 7, rate: 9000 } },
    ],
    render: { tail: { mode: 'auto', below: -80 }, anchor: 'source', name: '{sound} – kettle' },
    about: {
      summary: 'The voice of a machine with water in it: multiplied by a low tone, cut off flat, a little coarse.',
      kind: 'voice',
      character: ['rough', 'close'],
      tags: ['robot', 'machine', 'announcement'],
      rating: 4,
      author: 'Fog Museum workshop',
      licence: 'CC0-1.0',
      notes: 'Move *Boil* between 30 and 90 Hz until the words are still understood.\n',
    },
  },
  {
    name: 'Squall Line',
    stages: [
      {
        id: 'front',
        kind: 'flanger',
        name: 'Front',
        settings: { minDelay: 0.0004, depth: 0.006, rate: { beats: 16 }, feedback: -0.55, crossfed: 0.3, phase: 120 },
      },
      {
        id: 'gusts',
        kind: 'tremolo',
        name: 'Gusts',
        mix: 0.5,
        settings: { rate: { note: '1/16' }, shape: 'random', phase: 60 },
      },
    ],
    render: { tail: { mode: 'auto', below: -80 }, anchor: 'source', name: '{sound} – squall' },
    about: {
      summary: 'A front that passes over in four bars, with gusts in it, for going from one room to the next.',
      kind: 'transition',
      character: ['moving', 'wide'],
      tags: ['flanger', 'transition', 'noise'],
      rating: 3,
      author: 'Fog Museum workshop',
      licence: 'CC0-1.0',
      notes: 'Best on rain, crowds and cymbals: it needs highs to sweep through.\n',
    },
  },
  ...MORE_CHAINS,
  ...CLIP_CHAINS,
  ...MOVING_CHAINS,
].map((chain: Draft) => {
  const about = { ...(chain['about'] as object | undefined), sound: madeOn(chain.name) };
  return parseChain(BUILT_INS, withPanel(parseChain(BUILT_INS, { ...base, ...chain, about })));
});
