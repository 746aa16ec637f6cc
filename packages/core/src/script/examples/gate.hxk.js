// A gate: below a level it closes, so that what stands between the sounds goes
// away.

export const language = 1;
export const title = 'Fog gate';
export const family = 'dynamics';
export const summary =
  'Lets through what is loud enough, and closes over the rest.';
export const keywords = ['noise gate', 'expander', 'tighten'];

export const params = {
  threshold: level({
    default: -36,
    min: -80,
    max: 0,
    doc: 'What is louder opens it.',
  }),
  hold: time({
    default: '50 ms',
    min: '0 ms',
    max: '1 s',
    doc: 'How long it stays open after that.',
  }),
  close: time({
    default: '80 ms',
    min: '1 ms',
    max: '2 s',
    fixed: true,
    doc: 'How slowly it closes.',
  }),
};

// Both sides at once: so that one door stands before both, and the middle stays in
// the middle.
export function pair() {
  const loudness = follower(0.001, 0.02);
  let open = 0; // seconds that it still stays open
  let gain = 0;
  return (left, right, p) => {
    const level = loudness(Math.max(Math.abs(left), Math.abs(right)));
    if (level > dB(p.threshold)) open = p.hold;
    else open = Math.max(0, open - 1 / sampleRate);
    const opened = level > dB(p.threshold) || open > 0;
    // It opens within 2 ms, and closes as slowly as is set.
    gain +=
      (opened ? 1 - gain : -gain) *
      Math.min(1, 1 / ((opened ? 0.002 : p.close) * sampleRate));
    watch('open', gain);
    return [left * gain, right * gain];
  };
}
