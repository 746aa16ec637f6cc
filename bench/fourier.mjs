// Real transforms forth and back: the core's own beside fft.js, a common package.
import FFT from 'fft.js';
import { RealFft } from '../packages/core/dist/dsp/realFft.js';

export function benchmarkFourier(median) {
  return [256, 2048, 16384].map((size) => {
    const input = Float64Array.from({ length: size }, (_, i) => Math.sin(i * 0.37));
    const rounds = Math.ceil(2_000_000 / size);
    const each = (work) => (median(5, () => repeat(rounds, work)) / rounds) * 1e6;
    const fft = new FFT(size);
    const spectrum = fft.createComplexArray();
    const back = fft.createComplexArray();
    const theirs = each(() => {
      fft.realTransform(spectrum, input);
      fft.completeSpectrum(spectrum);
      fft.inverseTransform(back, spectrum);
    });
    const own = new RealFft(size);
    const re = new Float64Array(size / 2 + 1);
    const im = new Float64Array(size / 2 + 1);
    const out = new Float64Array(size);
    const ours = each(() => {
      own.forward(input, re, im);
      own.inverse(re, im, out);
    });
    return [
      `real transform of ${size} forth and back: ours, fft.js`,
      `${ours.toFixed(1)} µs, ${theirs.toFixed(1)} µs: ${(theirs / ours).toFixed(1)}× as fast`,
    ];
  });
}

function repeat(rounds, work) {
  for (let n = 0; n < rounds; n++) work();
}
