// An auto-panner: the sound goes from side to side, in time with the music.

export const language = 1;
export const title = 'Lighthouse pan';
export const family = 'motion';
export const summary = 'Moves the sound from side to side in time with the beat.';
export const keywords = ['auto pan', 'tremolo', 'stereo', 'rotate'];

export const params = {
  beats: number({
    default: 4,
    min: 0.25,
    max: 32,
    doc: 'Quarter notes for once there and back. More is slower.',
  }),
  width: ratio({ default: 0.8, doc: 'How far it goes to the sides.' }),
  shape: choice(['round', 'edged'], {
    default: 'round',
    doc: 'Round glides; edged jumps from side to side, softened a little.',
  }),
};

export function pair() {
  const glide = smooth(0.004); // takes the click out of a jump
  return (left, right, p) => {
    // `beat` counts quarter notes from the first sample on: it is the same place
    // live and rendered.
    const angle = 2 * Math.PI * (beat / p.beats);
    const wave =
      p.shape === 'round' ? Math.sin(angle) : Math.sin(angle) < 0 ? -1 : 1;
    const place = glide(wave) * p.width;
    watch('place', place);
    // A quarter of a circle from left to right keeps the loudness even.
    const turn = ((place + 1) * Math.PI) / 4;
    const middle = 0.5 * (left + right);
    const side = 0.5 * (left - right);
    return [
      Math.sqrt(2) * Math.cos(turn) * middle + side,
      Math.sqrt(2) * Math.sin(turn) * middle - side,
    ];
  };
}
