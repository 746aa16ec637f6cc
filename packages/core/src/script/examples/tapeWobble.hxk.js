// A tape that does not run evenly: a delay whose length wavers slowly (wow) and
// quickly (flutter).

export const language = 1;
export const title = 'Tape wobble';
export const family = 'pitch';
export const summary = 'Lets the pitch waver as a worn tape does.';
export const keywords = ['wow', 'flutter', 'vhs', 'cassette', 'lo-fi'];

export const params = {
  wow: ratio({
    default: 0.5,
    doc: 'How far the pitch wavers slowly, about once in two seconds.',
  }),
  flutter: ratio({ default: 0.3, doc: 'How far it trembles quickly.' }),
  age: ratio({ default: 0.4, doc: 'How dull and how uneven the tape is.' }),
};

const MIDDLE = 0.012; // seconds: around this delay the tape wavers
export const tail = 0.05;

export function channel() {
  const tape = delayLine(0.1);
  const slow = oscillator('sine');
  const quick = oscillator('triangle');
  const drift = smooth(0.3); // lets the noise wander instead of jump
  const dull = onePole();
  return (x, p) => {
    tape.write(x);
    // Chance makes no two rounds alike.
    const wander = 40 * p.age * drift(noise());
    const late =
      MIDDLE +
      0.004 * p.wow * slow(0.45 + 0.2 * wander) +
      0.0004 * p.flutter * quick(8.3 + wander);
    return dull.lowpass(tape.read(late), 16000 - 11000 * p.age);
  };
}
