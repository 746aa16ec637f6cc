// A soft clipper: peaks are bent round. It works with four samples for each one, so
// that the overtones it makes do not come back mirrored from above half the rate.

export const language = 1;
export const title = 'Soft clipper';
export const family = 'drive';
export const summary = 'Bends peaks round, so that they become overtones.';
export const keywords = ['saturation', 'overdrive', 'warm', 'tanh'];

export const params = {
  drive: level({
    default: 12,
    min: 0,
    max: 36,
    doc: 'How hard the sound is pushed into the curve. More is rougher.',
  }),
  lean: ratio({
    default: 0,
    doc: 'Bends up and down unevenly, which adds even overtones.',
  }),
};

export function channel() {
  // The function in it is called four times for each sample. Behind the sample
  // stand the values it needs.
  const bend = oversampled(
    4,
    (x, gain, lean) => Math.tanh(gain * x + 0.5 * lean) - Math.tanh(0.5 * lean),
  );
  return (x, p) => {
    const gain = dB(p.drive); // decibels as a factor
    // Softer again, so that drive is not mere loudness.
    return bend(x, gain, p.lean) / Math.sqrt(gain);
  };
}
