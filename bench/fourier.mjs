// Real transforms forth and back with fft.js.
import FFT from 'fft.js';

export function benchmarkFourier(median) {
  return [1024, 4096, 16384].map((size) => {
    const input = Float64Array.from({ length: size }, (_, i) => Math.sin(i * 0.37));
    const rounds = Math.ceil(2_000_000 / size);
    const fft = new FFT(size);
    const spectrum = fft.createComplexArray();
    const back = fft.createComplexArray();
    const seconds = median(5, () => {
      for (let n = 0; n < rounds; n++) {
        fft.realTransform(spectrum, input);
        fft.completeSpectrum(spectrum);
        fft.inverseTransform(back, spectrum);
      }
    });
    return [`real transform of ${size} forth and back, fft.js`, `${((seconds / rounds) * 1e6).toFixed(0)} µs`];
  });
}
