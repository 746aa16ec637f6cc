// A single repeat: the sound once more, later and softer. The best one to begin
// with.

// What the stage is. This part says what a person sees before anything sounds.
export const language = 1; // the version of the language that this is written in
export const title = 'Single repeat';
export const family = 'time'; // where it stands among the stages
export const summary = 'Adds the sound to itself once, later.';
// What one may type to find it.
export const keywords = ['slapback', 'double', 'echo'];

// Its settings, by name: the first value, how far it goes, and what is heard when
// it rises.
export const params = {
  time: time({
    default: '1/8',
    min: '1 ms',
    max: '2 s',
    doc: 'How late the repeat comes. Longer parts it from the sound.',
  }),
  amount: ratio({ default: 0.5, doc: 'How loud the repeat is.' }),
};

// How many seconds it rings on when the sound has ended: as long as the repeat is
// late.
export const tail = (p) => p.time;

// This runs once for the left and once for the right side, before the first sample.
export function channel() {
  // Memory for two seconds of sound.
  const line = delayLine(2);
  // This runs for each sample: x is what comes in, p has the settings, and what is
  // given back goes out.
  return (x, p) => {
    const late = line.read(p.time); // what went in p.time seconds ago
    line.write(x); // and what comes in now, for later
    return x + p.amount * late;
  };
}
