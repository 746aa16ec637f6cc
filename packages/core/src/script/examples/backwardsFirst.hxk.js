// A whole clip: the sound backwards, a gap, and then the sound itself. It is not run
// sample by sample: it may read anywhere in the sound, and write anywhere.

export const language = 1;
export const title = 'Backwards first';
export const family = 'clip';
export const summary = 'Plays the sound backwards, then, after a gap, as it is.';
export const keywords = ['reverse', 'swell', 'rewind', 'pre-echo'];

export const params = {
  gap: time({
    default: '1/4',
    min: '0 ms',
    max: '4 s',
    doc: 'How long it is silent between both.',
  }),
  swell: ratio({ default: 0.7, doc: 'How loud the backwards part is.' }),
};

// How many frames come out: twice the sound and the gap between.
export const frames = (sound, p) =>
  2 * sound.frames + Math.round(p.gap * sampleRate);
// Where they begin, counted from the first frame of the sound: so far before it that
// the sound itself stays where it was.
export const origin = (sound, p) => -sound.frames - Math.round(p.gap * sampleRate);

// This runs once.
export function clip(sound, out, p) {
  // Where the sound begins in what comes out.
  const begin = out.frames - sound.frames;
  for (let side = 0; side < sound.sides; side++) {
    for (let frame = 0; frame < sound.frames; frame++) {
      const x = sound.read(side, frame);
      out.write(side, sound.frames - 1 - frame, p.swell * x);
      out.write(side, begin + frame, x);
    }
  }
}
