import { echoPicture } from './echoPicture.ts';
import { DIFFUSER_TAIL } from '../../../dsp/diffuser.ts';
import { LFO_SHAPES } from '../../../dsp/lfo.ts';
import { log10 } from '../../../dsp/portableMath.ts';
import { defineLiveStage } from '../../contract.ts';
import { choice, degrees, frequency, level, number, rate, ratio, time } from '../../../params/params.ts';
import { loopInStep } from '../../rise.ts';
import { EchoProcessor, HIGHEST_CUT, LAYOUTS, LONGEST, LOWEST_CUT, SHORTEST } from './echoProcessor.ts';
import { CHANGES } from './echoTime.ts';

/** Passes until a repeat has fallen by 60 dB; none ends when nothing is lost. */
const passes = (feedback: number) => (feedback >= 1 ? Infinity : feedback <= 0.001 ? 1 : 1 + 3 / -log10(feedback));

export const echo = defineLiveStage({
  kind: 'echo',
  family: 'time',
  title: 'Echo',
  summary: 'Repeats the sound again and again, each time sent through whatever stands in its loop.',
  keywords: ['delay', 'repeat', 'dub', 'tape', 'slapback', 'ping pong', 'bounce', 'cave', 'space', 'feedback'],
  mixLaw: 'equal-power',
  widens: true,
  takesUpLatency: true,
  firstMix: 0.4,
  params: {
    layout: choice(LAYOUTS, {
      default: 'crossed',
      doc: 'One line for both sides; one for each side; two that feed each other, so that repeats jump from side to side; or one for the middle and one for the sides.',
    }),
    time: time({
      default: { note: '1/8d' },
      min: SHORTEST,
      max: LONGEST,
      doc: 'Time until the first repeat, of the left side or the middle where there are two. Longer spreads the repeats out.',
    }),
    secondTime: time({
      default: { note: '1/4' },
      min: SHORTEST,
      max: LONGEST,
      doc: 'The same for the right side or for the sides; not with one line.',
    }),
    feedback: ratio({
      default: 0.5,
      min: 0,
      max: 1.1,
      doc: 'How much of each repeat comes again. At 100 % they go on for ever; above, they grow up to a soft ceiling.',
    }),
    lowCut: frequency({
      default: 150,
      min: LOWEST_CUT,
      max: 2000,
      doc: 'In the loop: each repeat loses more of its lows. Off at 20 Hz. Higher thins the repeats out as they go.',
    }),
    highCut: frequency({
      default: 4500,
      min: 400,
      max: HIGHEST_CUT,
      doc: 'In the loop: each repeat loses more of its highs. Off at 20 kHz. Lower makes them sink into the distance.',
    }),
    drive: level({
      default: 0,
      min: 0,
      max: 36,
      doc: 'In the loop: saturates each repeat again, warmer to begin with, then rough. Soft sounds stay as they are, and no repeat loses its level by it.',
    }),
    diffusion: ratio({ default: 0, doc: 'Smears the repeats, from single echoes to a cloud.' }),
    diffusionPlace: choice(['before', 'inside', 'after'], {
      label: 'diffusion at',
      default: 'inside',
      doc: 'Whether the sound is smeared once before the loop, again with every repeat, or once behind it.',
    }),
    movement: time({
      default: 0,
      min: 0,
      max: 0.02,
      curve: 'linear',
      doc: 'How far the time swings, which bends the pitch of the repeats. A little is a chorus, a lot is seasick.',
    }),
    filterMovement: number({
      default: 0,
      min: 0,
      max: 3,
      doc: 'How far both cuts swing, in octaves to either side.',
    }),
    filterRate: rate({ default: 0.4, min: 0.02, max: 12, doc: 'How fast the cuts swing.' }),
    filterShape: choice(LFO_SHAPES, {
      default: 'sine',
      doc: 'Wave by which the cuts swing: rounded, straight, from end to end, or by chance.',
    }),
    movementRate: rate({ default: 0.4, min: 0.02, max: 12, doc: 'How fast the time swings.' }),
    movementShape: choice(LFO_SHAPES, {
      default: 'sine',
      doc: 'Wave by which the time swings: rounded, straight, from end to end, or by chance.',
    }),
    movementPhase: degrees({
      default: 90,
      min: 0,
      max: 180,
      doc: 'How far both swings of the second line lag those of the first. More is wider.',
    }),
    drift: number({
      default: 0,
      min: 0,
      max: 50,
      doc: 'Slow unsteadiness of the pitch in cents, by chance, as of a worn machine.',
    }),
    driftRate: rate({ default: 0.6, min: 0.1, max: 3, doc: 'How fast the slow unsteadiness wanders.' }),
    flutter: number({ default: 0, min: 0, max: 30, doc: 'Fast unsteadiness of the pitch in cents.' }),
    flutterRate: rate({ default: 8, min: 3, max: 15, doc: 'How fast the fast unsteadiness shivers.' }),
    noise: level({
      default: -96,
      min: -96,
      max: -20,
      doc: 'A bed of noise under the repeats that comes and goes with them. Off at −96 dB.',
    }),
    noiseColour: frequency({
      default: 3000,
      min: 200,
      max: 16000,
      doc: 'Where the noise ends. Lower is a rumble, higher is a hiss.',
    }),
    ducking: level({
      default: 0,
      min: 0,
      max: 40,
      doc: 'How far the repeats give way while the sound itself is there: they fill its gaps.',
    }),
    duckingThreshold: level({
      default: -30,
      min: -60,
      max: 0,
      doc: 'How loud the sound has to be for the repeats to give way. Lower gives way to more.',
    }),
    recovery: time({
      default: 0.25,
      min: 0.02,
      max: 3,
      doc: 'How slowly the repeats come back when the sound has gone.',
    }),
    change: choice(CHANGES, {
      label: 'new time',
      default: 'glide',
      doc: 'What is heard when the time is changed: the pitch glides as on a tape, one place fades into the other, or it cuts.',
    }),
    glide: time({ default: 0.3, min: 0.02, max: 4, doc: 'How long a glide takes. Shorter bends the pitch further.' }),
  },
  groups: {
    delay: ['layout', 'time', 'secondTime', 'feedback', 'change', 'glide'],
    'tone in the loop': ['lowCut', 'highCut', 'drive', 'diffusion', 'diffusionPlace'],
    modulation: ['movement', 'movementRate', 'movementShape', 'movementPhase'],
    'modulated cuts': ['filterMovement', 'filterRate', 'filterShape'],
    'wow and flutter': ['drift', 'driftRate', 'flutter', 'flutterRate'],
    noise: ['noise', 'noiseColour'],
    ducking: ['ducking', 'duckingThreshold', 'recovery'],
  },
  picture: ({ values, shiftInside, timing }) => echoPicture(values, shiftInside, timing),
  holds: {
    count: () => ({ min: 1, max: 1 }),
    title: () => 'Loop',
    inputChannels: () => 2,
    placement: () => 'both',
  },
  exempt: [
    {
      trial: 'jump',
      param: 'noise',
      because: 'on the way it passes settings at which it makes highs itself, more than at either end',
    },
    {
      trial: 'jump',
      param: 'drive',
      because: 'on the way it passes settings at which it makes highs itself, more than at either end',
    },
    { trial: 'block length', within: 0.001, because: 'some of its values move in straight lines from block to block' },
  ],
  heldTo: [
    { what: 'The first repeat lies at the set time', limit: ['within', 1, 'sample'], how: 'on an impulse' },
    { what: 'Each further repeat is smaller by the feedback', limit: ['within', 0.1, 'dB'], how: 'on an impulse' },
    {
      what: 'The cuts act once a pass: the n-th repeat shows n times their decibels; without them, at 15 kHz, a pass loses, while nothing moves,',
      limit: ['at most', 0.1, 'dB'],
      how: 'in the spectra of the repeats',
    },
    {
      what: 'Drive leaves soft repeats at the set feedback, and loud ones near it',
      limit: ['within', 1, 'dB'],
      how: 'by the levels of repeats',
    },
    {
      what: 'At 110 % for a minute, without direct current, it stays',
      limit: ['below', 6, 'dBFS'],
      how: 'by its highest sample',
    },
    { what: 'Middle and sides are apart: a mono sound gives nothing at the time of the sides', how: 'on an impulse' },
    {
      what: 'A new time makes no step by crossfade or cut, and bends the pitch by glide',
      how: 'by steps and pitch while the time is changed',
    },
  ],
  mayRise: {
    by: 'its feedback, and 24 LU where repeats grow',
    most: ({ feedback }) => (feedback < 1 ? Math.min(24, loopInStep(feedback)) : 24),
  },
  tailSeconds: ({ layout, time: first, secondTime, feedback, diffusion, diffusionPlace, noise }, branchTails) => {
    const longest = layout === 'single' ? first : Math.max(first, secondTime);
    const each = longest + Math.max(0, ...branchTails) + (diffusionPlace === 'inside' ? diffusion : 0) * DIFFUSER_TAIL;
    return (
      passes(feedback) * each +
      (diffusionPlace === 'inside' ? 0 : diffusion) * DIFFUSER_TAIL +
      (noise > -96 ? 0.8 : 0.1)
    );
  },
  create: (context, values) => new EchoProcessor(context, values),
});
