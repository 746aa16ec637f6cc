import { BUILT_INS, type SettingValue } from '@hexenkessel/core/stages';
import { controlAt, controlFor, findTarget, type ChainDocument, type ControlDocument } from '@hexenkessel/core/chain';

/** What a control drives: the setting, and what it is at the one end and at the other. */
type Drive = readonly [target: string, from: SettingValue, to: SettingValue];

interface Knob {
  readonly name: string;
  readonly note: string;
  readonly drives: readonly Drive[];
  /** Shown instead of per cent, evenly spread; it stands on nothing between. */
  readonly words?: readonly string[];
}

const knob = (name: string, note: string, drives: readonly Drive[], words?: readonly string[]): Knob => ({
  name,
  note,
  drives,
  ...(words && { words }),
});
const beats = (count: number): SettingValue => ({ beats: count });
const bars = (count: number): SettingValue => ({ bars: count });

/** What visitors of the museum play its presets with. Each control begins where the preset was made. */
const PANELS: Readonly<Record<string, readonly Knob[]>> = {
  'Tide Turning': [
    knob(
      'Length',
      'How early the swell is felt.',
      [['hall.decay', beats(4), beats(16)]],
      ['a bar', 'two bars', 'four bars'],
    ),
    knob('Thinness', 'What is taken from below, so that a voice stays free.', [['hall.lowCut', 210, 840]]),
    knob('Air', 'How much of the highs the sea keeps.', [['hall.highDecay', 0.4, 1]]),
  ],
  'Storm Glass': [
    knob('Veil', 'How bright the glass is.', [['veil.cutoff', 2600, 10400]]),
    knob('Room', 'How much of the hall is around it.', [['hall.mix', 0.1, 0.8]]),
    knob(
      'Length',
      'How long the hall rings.',
      [['hall.decay', beats(2), beats(8)]],
      ['half a bar', 'a bar', 'two bars'],
    ),
  ],
  'Copper Dome': [
    knob('Dome', 'How much of the dome is heard.', [['hall.mix', 0, 0.8]]),
    knob('Length', 'How long it rings.', [['hall.decay', 0.8, 12.8]]),
    knob('Distance', 'How late the dome answers.', [['hall.preDelay', 0.01, 0.06]]),
  ],
  'Lamp Room': [
    knob('Lamps', 'How loud the highs and their room are.', [['glass.level', -12, 6]]),
    knob('Room', 'How much of the highs rings.', [['lamps.mix', 0.1, 1]]),
    knob('Parting', 'Where the highs begin.', [['parts.low', 450, 1800]]),
  ],
  'Talking Kettle': [
    knob('Boil', 'How much of the voice is made of metal.', [['boil.mix', 0.7, 1]]),
    knob('Metal', 'How high the metal rings.', [['boil.carrier', 26, 104]]),
    knob('Tin', 'How much tin is mixed in.', [['tin.mix', 0, 0.7]]),
  ],
  'Squall Line': [
    knob('Front', 'How deep the front sweeps.', [['front.depth', 0.002, 0.01]]),
    knob('Gusts', 'How strong the gusts are.', [['gusts.mix', 0, 1]]),
    knob(
      'Pace',
      'How long one sweep takes.',
      [['front.rate', beats(32), beats(8)]],
      ['eight bars', 'four bars', 'two bars'],
    ),
  ],
  'Barometer Drop': [
    knob(
      'Fall',
      'How long the fall takes.',
      [['fall.time', beats(0.5), beats(2)]],
      ['half a beat', 'a beat', 'two beats'],
    ),
    knob('Brake', 'Hard at the start of the fall, or late.', [['fall.curve', -0.9, 0.3]]),
    knob('Ceiling', 'The highest level that comes out.', [['even.ceiling', -2, 0]]),
  ],
  Hail: [
    knob('Stones', 'How many splinters fly around.', [['stones.mix', 0, 0.9]]),
    knob('Size', 'How large they are.', [['stones.size', 0.0225, 0.09]]),
    knob('Climb', 'By how much each repeat is higher.', [['strike.pitchStep', -1, 3]]),
  ],
  'Isobar Choir': [
    knob('Choir', 'The speaker alone, or all of the choir.', [['choir.mix', 0.7, 1]]),
    knob('Low voices', 'How much of the voices below is heard.', [['choir.transposed', 0, 0.6]]),
    knob('Nave', 'How much of the church is around them.', [['nave.mix', 0.1, 0.7]]),
    knob('Length', 'How long the church rings.', [['nave.decay', 1.7, 6.8]]),
  ],
  'Fog Speaks': [
    knob('Key', 'Where the chord stands.', [['mouth.note', 49, 196]], ['low', 'made', 'high']),
    knob('Hiss', 'How much of the voice’s own hiss is left.', [['mouth.unvoiced', 0.6, 1]]),
    knob('Fog', 'How thick the fog bank is.', [['bank.mix', 0, 0.44]]),
  ],
  Undertow: [
    knob('Pull', 'How many repeats there are.', [['pull.feedback', 0.56, 0.88]]),
    knob('Amount', 'How loud they are beside the voice.', [['pull.mix', 0.2, 0.8]]),
    knob('Wear', 'How unsteadily it runs.', [
      ['pull.drift', 0, 18],
      ['pull.flutter', 0, 6],
    ]),
    knob('Murk', 'How dark each repeat gets.', [['pull.highCut', 5200, 1300]]),
  ],
  Thermal: [
    knob(
      'Rise',
      'How much higher each repeat climbs.',
      [['rise.interval', 3, 7]],
      ['a minor third', 'a fourth', 'a fifth'],
    ),
    knob('Height', 'How often it climbs.', [['rise.feedback', 0.55, 0.85]]),
    knob('Sky', 'How wide the sky is.', [['sky.mix', 0, 0.6]]),
  ],
  'Deep Keeper': [
    knob('Depth', 'How much lower the voice is.', [['down.interval', -9, -3]], ['very deep', 'deep', 'a little']),
    knob('Chest', 'How much body it has.', [['chest.gain2', 0, 8]]),
    knob('Closeness', 'How near it is held to the ear.', [
      ['close.threshold', -20, -32],
      ['close.makeUp', 5, 11],
    ]),
  ],
  'Shipping Forecast': [
    knob('Reception', 'How narrow the set is.', [['set.resonance', 0.5, 1.28]]),
    knob('Static', 'How loud the rain in the ether is.', [['static.amount', -38, -14]]),
    knob('Valve', 'How hot the valve runs.', [['valve.amount', 2, 18]]),
  ],
  'Signal Box': [
    knob('Door', 'How far back in the box one stands.', [['box.sourceAlong', 0.65, 0.95]]),
    knob('Box', 'How much of the box is around the key.', [['box.mix', 0.4, 1]]),
  ],
  Sleet: [
    knob('Grain', 'How coarse the ice is.', [['coarse.rate', 16400, 4100]]),
    knob('Dullness', 'What is left of the highs.', [['dull.cutoff', 10400, 2600]]),
    knob('Warp', 'How much it bends.', [['warp.depth', 0, 28]]),
  ],
  'Slack Water': [
    knob('Depth', 'How much weight is added below.', [['deep.gain2', 0, 6]]),
    knob('Glint', 'How much shine is added above.', [['deep.gain6', 0, 6]]),
    knob('Seams', 'How softly the halves are joined.', [['slow.crossfade', 0.01, 0.04]]),
  ],
  'Gap in the Clouds': [
    knob('Answer', 'How loud the echo answers.', [['answer.mix', 0.3, 0.7]]),
    knob('Patience', 'How long it waits for a pause.', [['answer.recovery', 0.175, 0.7]]),
    knob('Repeats', 'How often it answers.', [['answer.feedback', 0.2, 0.7]]),
  ],
  'Two Tides': [
    knob('Tides', 'How much of them is heard.', [['tides.mix', 0.1, 0.8]]),
    knob('Repeats', 'How long they go on.', [['tides.feedback', 0.4, 0.8]]),
    knob('Width', 'How far apart the shores are.', [['wide.width', 1, 1.6]]),
  ],
  'Bell Buoy': [
    knob('Bell', 'How much of the bell is in the sound.', [['bell.mix', 0.2, 0.8]]),
    knob('Swell', 'How much it beats against itself.', [['swell.mix', 0, 0.6]]),
    knob('Drift', 'How fast it beats.', [['swell.shift', 1, 5]]),
  ],
  'Rain Gauge': [
    knob('Drops', 'How long each drop is.', [['drops.length', 0.5, 0.9]]),
    knob('Swing', 'How unevenly they fall.', [['drops.swing', 0, 0.3]]),
    knob('Pool', 'How much the pool answers.', [['pool.mix', 0.1, 0.5]]),
  ],
  'Weather Vane': [
    knob('Turn', 'How deep the vane cuts.', [['turn.depth', 1, 3]]),
    knob('Wind', 'How long one turn takes.', [['turn.rate', bars(4), bars(1)]], ['four bars', 'two bars', 'a bar']),
    knob('Lean', 'To which side it leans.', [['lean.pan', -0.6, 0.3]]),
  ],
  'Making Way': [
    knob('Rain', 'How loud the rain is under the chords.', [['rain.amount', -16, 0]]),
    knob('Way', 'How far it makes way for the drums.', [['way.amount', 7, 11]]),
    knob('Return', 'How fast it comes back.', [['way.release', 0.24, 0.135]]),
  ],
  'Mooring Line': [
    knob('Grit', 'How much rust is on the line.', [['grit.mix', 0, 1]]),
    knob('Pull', 'How tightly it is held.', [['taut.threshold', -21, -27]]),
    knob('Weight', 'How loud it comes out.', [['weight.gain', 3, 6]]),
  ],
  'Mirror Lake': [
    knob('Voices', 'How unsteady the mirror is.', [['many.depth', 0.002, 0.006]]),
    knob('Width', 'How wide it is.', [['many.spread', 0, 1]]),
    knob('Stillness', 'How much of the lake is around it.', [['still.mix', 0.1, 0.6]]),
  ],
  'Falling Glass': [
    knob('Ground', 'What is cut away below.', [['rumble.cutoff', 45, 180]]),
    knob('Ceiling', 'The highest peak that comes out.', [['even.to', -3, 0]]),
  ],
  'Anchor Drop': [
    knob('Chain', 'How much of the chain scrapes along.', [['chain.mix', 0, 0.6]]),
    knob('Rust', 'How rough the chain is.', [['chain.amount', 4, 14]]),
  ],
  'Wave on Wave': [
    knob('Waves', 'How long one wave is.', [['waves.grid', beats(1), beats(4)]], ['a beat', 'two beats', 'a bar']),
    knob('Depth', 'How much of them covers the dry sound.', [['waves.mix', 0.4, 1]]),
    knob('Water', 'How wet each wave is.', [['water.mix', 0.6, 1]]),
  ],
  'One-Note Horn': [
    knob('Note', 'The note that all is said on.', [['note.note', 33, 57]], ['A1', 'A2', 'A3']),
    knob('Glide', 'How the voice comes to it.', [['note.glide', 0.01, 0.04]]),
    knob('Hall', 'How much room is around it.', [['hall.mix', 0, 0.4]]),
  ],
  'Hours of Fog': [
    knob('Hours', 'How long the fog lasts.', [['fog.factor', 2, 12.5]]),
    knob('Thickness', 'How little of the sound is left in it.', [['dull.cutoff', 6400, 1600]]),
  ],
  'Slow Ferry': [
    knob('Pace', 'How much slower the ferry goes.', [['slow.factor', 1, 1.96]]),
    knob('Depth', 'How much lower it sounds.', [['low.interval', -6, 0]], ['very low', 'low', 'as it was']),
    knob('Deck', 'How much of the deck is heard.', [['deck.mix', 0, 0.6]]),
  ],
  'Bad Line': [
    knob('Line', 'How narrow the line is.', [['line.resonance', 0.7, 3.2]]),
    knob('Carbon', 'How much the carbon crackles.', [['carbon.amount', 7, 21]]),
  ],
  Winch: [
    knob(
      'Stop',
      'How long the drum takes to stand still.',
      [['drum.time', beats(0.5), beats(2)]],
      ['half a beat', 'a beat', 'two beats'],
    ),
    knob('Swing', 'How far the cable swings while it turns.', [['cable.pan', -0.3, 0.3]]),
  ],
};

/** Stages of the museum are called after the same things. */
const idOf = (name: string) =>
  `panel ${name.toLowerCase()}`.replace(/[^a-z]+(.)?/g, (_, next: string | undefined) => (next ?? '').toUpperCase());

/** The chain with its panel; those that bring one of their own keep it. */
export function withPanel(chain: ChainDocument): ChainDocument {
  const knobs = PANELS[chain.name];
  if (!knobs || chain.panel.length > 0) return chain;
  return { ...chain, panel: knobs.map((made) => controlOf(chain, made)) };
}

/** A control that stands where the setting that it drives first stands. */
function controlOf(chain: ChainDocument, { name, note: text, drives, words = [] }: Knob): ControlDocument {
  // What is typed on a row holds; only words stand on steps.
  const step = words.length > 0 ? 100 / (words.length - 1) : 0;
  const driven = drives.map(([target, from, to]) => ({ target, from, to, bend: 0 }));
  const bare: ControlDocument = {
    id: idOf(name),
    name,
    group: '',
    note: text,
    unit: '%',
    min: 0,
    max: 100,
    bend: 0,
    step,
    default: 0,
    value: 0,
    words,
    locked: false,
    drives: driven,
  };
  const target = findTarget(BUILT_INS, chain, drives[0][0]);
  const made = target && controlFor(target.param, { ...bare, step: 0 }, driven[0], target.value, chain.timing);
  if (made === undefined) throw new Error(`${chain.name}: ${name} does not reach ${drives[0][0]} as it is`);
  const value = controlAt(bare, (step > 0 ? Math.round(made / step) * step : Math.round(made)) / 100);
  return { ...bare, value, default: value };
}
