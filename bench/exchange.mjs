// The inner loop of a feedback delay network, written twice: rolled over small arrays, and out over locals.

function rolled(lines, stride, frames, x) {
  for (let i = 0; i < frames; i++) {
    for (let l = 0; l < 16; l++) x[l] = lines[l * stride + i];
    for (let half = 8; half >= 1; half >>= 1) {
      for (let l = 0; l < 16; l++) {
        if (l & half) continue;
        const a = x[l];
        const b = x[l + half];
        x[l] = a + b;
        x[l + half] = a - b;
      }
    }
    for (let l = 0; l < 16; l++) lines[l * stride + i] = 0.25 * x[l];
  }
}

/** The same steps with a local for every value, generated here so that both are the same sums. */
function writtenOut() {
  const load = Array.from({ length: 16 }, (_, l) => `let x${l} = lines[${l} * stride + i];`);
  const steps = [8, 4, 2, 1].flatMap((half) =>
    Array.from({ length: 16 }, (_, l) => l)
      .filter((l) => !(l & half))
      .map((l) => `{ const a = x${l}, b = x${l + half}; x${l} = a + b; x${l + half} = a - b; }`),
  );
  const store = Array.from({ length: 16 }, (_, l) => `lines[${l} * stride + i] = 0.25 * x${l};`);
  return new Function(
    'lines',
    'stride',
    'frames',
    `for (let i = 0; i < frames; i++) { ${[...load, ...steps, ...store].join(' ')} }`,
  );
}

export function benchmarkExchange(median) {
  const lines = Float64Array.from({ length: 16 * 128 }, (_, i) => Math.sin(i));
  const blocks = 4000;
  const perFrame = (work) =>
    (median(7, () => {
      for (let n = 0; n < blocks; n++) work();
    }) /
      (blocks * 128)) *
    1e9;
  const small = new Float64Array(16);
  const out = writtenOut();
  const a = perFrame(() => rolled(lines, 128, 128, small));
  const b = perFrame(() => out(lines, 128, 128));
  return [
    ['16-line exchange, rolled loops over a small array: per frame', `${a.toFixed(0)} ns`],
    ['16-line exchange, written out over locals: per frame', `${b.toFixed(0)} ns, ${(a / b).toFixed(1)}× as fast`],
  ];
}
