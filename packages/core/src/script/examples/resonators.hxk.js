// A bank of resonators: six filters that ring at the notes of a chord, whatever
// comes in.

export const language = 1;
export const title = 'Ringing beams';
export const family = 'tone';
export const summary = 'Lets six resonators ring at the overtones of a note.';
export const keywords = ['resonator', 'comb', 'chord', 'drone', 'sympathetic'];

export const params = {
  note: frequency({
    default: 110,
    min: 30,
    max: 1000,
    doc: 'The lowest resonance. Higher rings higher.',
  }),
  spread: number({
    default: 1,
    min: 0.5,
    max: 2,
    doc: 'How far the others lie apart. 1 is a harmonic series.',
  }),
  ring: number({
    default: 60,
    min: 5,
    max: 400,
    doc: 'How sharp they are. More rings longer and purer.',
  }),
};
export const firstMix = 0.5;
export const mixLaw = 'equal-power';
// A resonance of quality q falls by 60 dB in about 2.2 q periods.
export const tail = (p) => (2.2 * p.ring) / p.note;

export function channel() {
  // One filter each: a loop could not keep six memories apart.
  const first = filter('bandpass');
  const second = filter('bandpass');
  const third = filter('bandpass');
  const fourth = filter('bandpass');
  const fifth = filter('bandpass');
  const sixth = filter('bandpass');
  // The nth of them: a power of n, which is n itself where the spread is 1.
  const of = (n, note, spread) => note * Math.pow(n, spread);
  return (x, p) => {
    const low =
      first(x, p.note, p.ring) + second(x, of(2, p.note, p.spread), p.ring);
    const middle =
      third(x, of(3, p.note, p.spread), p.ring) +
      fourth(x, of(4, p.note, p.spread), p.ring);
    const high =
      fifth(x, of(5, p.note, p.spread), p.ring) +
      sixth(x, of(6, p.note, p.spread), p.ring);
    // They let through little each; so louder again.
    return Math.sqrt(p.ring) * 0.5 * (low + 0.8 * middle + 0.6 * high);
  };
}
