// A freeze: while it is on, two grains of the last moment take turns, so that the
// moment stands still.

export const language = 1;
export const title = 'Held breath';
export const family = 'grain';
export const summary = 'Holds the last moment of the sound and lets it sound on.';
export const keywords = ['freeze', 'hold', 'sustain', 'infinite', 'granular'];

export const params = {
  hold: toggle({
    default: true,
    doc: 'On: the moment is held. Off: the sound passes.',
  }),
  wait: time({
    default: '500 ms',
    min: '10 ms',
    max: '5 s',
    doc: 'How much of the sound passes before it is held.',
  }),
  grain: time({
    default: '120 ms',
    min: '20 ms',
    max: '500 ms',
    doc: 'How long the moment is. Shorter buzzes, longer breathes.',
  }),
};
export const tail = Infinity; // it holds for ever

export function channel() {
  const memory = array(96000); // half a second at the highest rate
  let written = 0;
  let held = 0; // 0 … 1: how far the freeze has been let in
  let since = 0; // seconds since it was switched on
  let phase = 0; // 0 … 1: where the first grain is
  // A grain: its window is 0 at both ends and, with another half a grain on, always
  // adds up to 1.
  const window = (at) => 0.5 - 0.5 * Math.cos(2 * Math.PI * at);
  return (x, p) => {
    since = p.hold ? since + 1 / sampleRate : 0;
    const on = p.hold && since > p.wait;
    if (!on) {
      memory[written % 96000] = x;
      written += 1;
    }
    held += (on ? 1 - held : -held) * Math.min(1, 60 / sampleRate);
    phase = (phase + 1 / (p.grain * sampleRate)) % 1;
    const length = p.grain * sampleRate;
    const other = (phase + 0.5) % 1;
    const begin = Math.max(0, written - length);
    const frozen =
      window(phase) * memory[Math.floor(begin + phase * length) % 96000] +
      window(other) * memory[Math.floor(begin + other * length) % 96000];
    return (1 - held) * x + held * frozen;
  };
}
