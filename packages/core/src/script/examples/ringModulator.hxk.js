// A ring modulator: the sound times a tone. What was one frequency becomes two: the
// sum and the difference.

export const language = 1;
export const title = 'Ring of bells';
export const family = 'motion';
export const summary =
  'Multiplies the sound by a tone, so that each of its frequencies becomes two.';
export const keywords = ['ring modulation', 'metallic', 'robot', 'bell'];

export const params = {
  pitch: frequency({
    default: 220,
    min: 0.5,
    max: 8000,
    doc: 'The tone that the sound is multiplied by. Higher moves the frequencies further apart.',
  }),
  depth: ratio({
    default: 1,
    doc: 'At 100 % only sum and difference are left; below, the sound itself comes back.',
  }),
};

export function channel() {
  // A wave that keeps its place from sample to sample.
  const tone = oscillator('sine');
  return (x, p) => {
    const ring = x * tone(p.pitch);
    // Between the sound and its ring.
    return x + p.depth * (ring - x);
  };
}
