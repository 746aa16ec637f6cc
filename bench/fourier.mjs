// Real transforms forth and back: fft.js against a WebAssembly build of KISS FFT.
import FFT from 'fft.js';
import * as kissModule from '@echogarden/kissfft-wasm';

export async function benchmarkFourier(median) {
  const kiss = await (kissModule.default ?? kissModule.createKissFFT)();
  const rows = [];
  for (const size of [1024, 4096, 16384]) {
    const input = Float64Array.from({ length: size }, (_, i) => Math.sin(i * 0.37));
    const rounds = Math.ceil(2_000_000 / size);
    const js = new FFT(size);
    const spectrum = js.createComplexArray();
    const back = js.createComplexArray();
    const jsTime = median(5, () => {
      for (let n = 0; n < rounds; n++) {
        js.realTransform(spectrum, input);
        js.completeSpectrum(spectrum);
        js.inverseTransform(back, spectrum);
      }
    });
    const wasmTime = median(5, kissRounds(kiss, size, input, rounds));
    rows.push([
      `real transform of ${size} forth and back: fft.js, KISS FFT in WebAssembly`,
      `${((jsTime / rounds) * 1e6).toFixed(0)} µs, ${((wasmTime / rounds) * 1e6).toFixed(0)} µs`,
    ]);
  }
  return rows;
}

function kissRounds(kiss, size, input, rounds) {
  const forth = kiss._kiss_fftr_alloc(size, 0, 0, 0);
  const back = kiss._kiss_fftr_alloc(size, 1, 0, 0);
  const time = kiss._malloc(size * 4);
  const frequency = kiss._malloc((size / 2 + 1) * 8);
  return () => {
    for (let n = 0; n < rounds; n++) {
      kiss.HEAPF32.set(input, time / 4);
      kiss._kiss_fftr(forth, time, frequency);
      kiss._kiss_fftri(back, frequency, time);
    }
  };
}
