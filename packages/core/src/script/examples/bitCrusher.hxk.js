// A bit crusher: fewer steps from silence to full level, and fewer samples a
// second.

export const language = 1;
export const title = 'Bit crusher';
export const family = 'drive';
export const summary =
  'Rounds the sound to few steps and holds samples, as early samplers did.';
export const keywords = ['lo-fi', 'decimate', '8 bit', 'sample rate reduction'];

export const params = {
  bits: number({
    default: 6,
    min: 1,
    max: 16,
    doc: 'How finely the level is divided. Fewer is rougher.',
  }),
  rate: frequency({
    default: 8000,
    min: 200,
    max: 48000,
    doc: 'How many samples a second are left. Lower whistles more.',
  }),
};

export function channel() {
  let held = 0; // the sample that is held
  let phase = 1; // how much of a step has gone by; at 1 it is time for the next
  return (x, p) => {
    phase += Math.min(1, p.rate / sampleRate);
    if (phase >= 1) {
      phase -= 1;
      const steps = Math.pow(2, p.bits - 1);
      held = Math.round(x * steps) / steps;
    }
    return held;
  };
}
