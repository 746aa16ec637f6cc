// Repeats that feed back through a filter: each one is darker than the one before.

export const language = 1;
export const title = 'Darkening repeats';
export const family = 'time';
export const summary =
  'Repeats the sound over and over, each time with less treble.';
export const keywords = ['echo', 'dub', 'feedback', 'damped'];

export const params = {
  time: time({
    default: '1/8d',
    min: '1 ms',
    max: '3 s',
    doc: 'From one repeat to the next. Longer makes them rarer.',
  }),
  feedback: ratio({
    default: 0.6,
    max: 0.95,
    doc: 'How much of a repeat comes again. More lasts longer.',
  }),
  tone: frequency({
    default: 2500,
    min: 200,
    max: 16000,
    doc: 'What the filter in the loop lets through. Higher stays brighter.',
  }),
};
export const firstMix = 0.4; // the dry sound stays louder when it is added
export const mixLaw = 'equal-power'; // wet and dry are unlike each other

// Each time round takes off a share; after so many rounds a thousandth is left,
// which is 60 dB.
export const tail = (p) =>
  (p.time * Math.log(0.001)) /
  Math.log(Math.max(0.001, Math.min(0.95, p.feedback)));

export function channel() {
  const line = delayLine(3);
  const damping = onePole(); // a filter of 6 dB an octave, with its own memory
  return (x, p) => {
    const late = line.read(p.time);
    // What goes round again: softer, and without what lies above the tone.
    const again = damping.lowpass(late, p.tone) * p.feedback;
    line.write(x + again);
    return late;
  };
}
