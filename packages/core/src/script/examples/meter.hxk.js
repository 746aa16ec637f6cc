// A meter: it changes nothing and only watches. What is watched is drawn beside the
// sound.

export const language = 1;
export const title = 'Watcher';
export const family = 'plumbing';
export const summary =
  'Draws how loud the sound is and how alike its sides are, and changes nothing.';
export const keywords = ['meter', 'level', 'correlation', 'analyse'];

export const params = {
  slowness: time({
    default: '100 ms',
    min: '1 ms',
    max: '2 s',
    fixed: true,
    doc: 'How slowly the drawn values follow.',
  }),
};

export function pair() {
  let power = 0;
  let product = 0;
  return (left, right, p) => {
    const share = Math.min(1, 1 / (p.slowness * sampleRate));
    power += share * (0.5 * (left * left + right * right) - power);
    product += share * (left * right - product);
    watch('level', Math.sqrt(power)); // root of the mean square
    // 1: mono, 0: unrelated, −1: opposed.
    watch('alike', power > 1e-9 ? product / power : 0);
    return [left, right];
  };
}
