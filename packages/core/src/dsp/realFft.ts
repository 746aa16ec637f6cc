import { TAU, cos, sin } from './portableMath.ts';

/** Points that a step works on at the most. */
const STEP_POINTS = 1024;

/**
 * Fourier transform of real sequences whose length is a power of two: the even and odd samples are transformed together
 * as one complex sequence of half the length (J. W. Cooley, P. A. W. Lewis & P. D. Welch, 1970), radix 2, decimation in
 * time. Tables come from the portable functions, so every engine gives the same bits. Nothing is allocated once made.
 * A transform can be done step by step, so that a long one holds nothing up; meanwhile no other must be begun.
 */
export class RealFft {
  readonly size: number;
  /** Number of complex points inside. */
  private readonly half: number;
  /** Steps that `forward` and `inverse` consist of, all of about the same length. */
  readonly steps: number;
  readonly inverseSteps: number;
  /** Points that each works on. */
  readonly stepPoints: number;
  /** Into how many steps each round is cut. */
  private readonly parts: number;
  /** Of each round: how far apart its points lie, and whether it is two at once. */
  private readonly rounds: readonly { readonly span: number; readonly double: boolean }[];
  private readonly reversed: Uint32Array;
  private readonly cosines: Float64Array;
  private readonly sines: Float64Array;
  private readonly re: Float64Array;
  private readonly im: Float64Array;

  /** `size` is a power of two of at least 4. */
  constructor(size: number) {
    this.size = size;
    const half = size / 2;
    this.half = half;
    this.re = new Float64Array(half);
    this.im = new Float64Array(half);
    this.cosines = Float64Array.from({ length: half }, (_, k) => cos((TAU * k) / size));
    this.sines = Float64Array.from({ length: half }, (_, k) => sin((TAU * k) / size));
    this.reversed = new Uint32Array(half);
    let bits = 0;
    while (1 << bits < half) bits++;
    for (let i = 0; i < half; i++) {
      let mirrored = 0;
      for (let b = 0; b < bits; b++) if (i & (1 << b)) mirrored |= 1 << (bits - 1 - b);
      this.reversed[i] = mirrored;
    }
    const rounds: { readonly span: number; readonly double: boolean }[] = [{ span: 1, double: half >= 4 }];
    // Two rounds at once, as often as it goes: the same sums in the same order with half the reading and writing.
    for (let span = 4; span < half;) {
      const double = 2 * span < half;
      rounds.push({ span, double });
      span *= double ? 4 : 2;
    }
    this.rounds = rounds;
    this.parts = Math.max(1, half / STEP_POINTS);
    this.stepPoints = half / this.parts;
    this.steps = (rounds.length + 2) * this.parts;
    // Reading a spectrum takes twice as long as the rest: its writes lie far apart.
    this.inverseSteps = this.steps + this.parts;
  }

  /** Spectrum of `size` samples: bins 0 … size/2 into `re` and `im`. */
  forward(samples: Float32Array | Float64Array, re: Float64Array, im: Float64Array): void {
    for (let step = 0; step < this.steps; step++) this.forwardStep(step, samples, re, im);
  }

  /** One step of `forward`: the first few read the samples, the last few write the spectrum. */
  forwardStep(step: number, samples: Float32Array | Float64Array, re: Float64Array, im: Float64Array): void {
    const { parts } = this;
    const part = step % parts;
    if (step < parts) this.take(part, samples);
    else if (step < this.steps - parts) this.round((step - part) / parts - 1, part);
    else this.untangle(part, re, im);
  }

  private take(part: number, samples: Float32Array | Float64Array): void {
    const { stepPoints, reversed } = this;
    const a = this.re;
    const b = this.im;
    for (let i = part * stepPoints; i < (part + 1) * stepPoints; i++) {
      const from = 2 * reversed[i];
      a[i] = samples[from];
      b[i] = samples[from + 1];
    }
  }

  /** The spectrum of the real sequence from that of its even and odd samples together. */
  private untangle(part: number, re: Float64Array, im: Float64Array): void {
    const { half, stepPoints, cosines, sines } = this;
    const a = this.re;
    const b = this.im;
    if (part === 0) {
      re[0] = a[0] + b[0];
      im[0] = 0;
      re[half] = a[0] - b[0];
      im[half] = 0;
    }
    // Each with the one as far from the other end.
    const first = (part * stepPoints) >> 1;
    const last = ((part + 1) * stepPoints) >> 1;
    for (let k = first + 1; k <= last; k++) {
      const m = half - k;
      const evenRe = 0.5 * (a[k] + a[m]);
      const evenIm = 0.5 * (b[k] - b[m]);
      const oddRe = 0.5 * (b[k] + b[m]);
      const oddIm = 0.5 * (a[m] - a[k]);
      const c = cosines[k];
      const s = sines[k];
      const turnedRe = c * oddRe + s * oddIm;
      const turnedIm = c * oddIm - s * oddRe;
      re[k] = evenRe + turnedRe;
      im[k] = evenIm + turnedIm;
      re[m] = evenRe - turnedRe;
      im[m] = turnedIm - evenIm;
    }
  }

  /** The `size` samples whose spectrum `forward` gives. */
  inverse(re: Float64Array, im: Float64Array, samples: Float32Array | Float64Array): void {
    for (let step = 0; step < this.inverseSteps; step++) this.inverseStep(step, re, im, samples);
  }

  /** One step of `inverse`: the first few read the spectrum, the last few write the samples. */
  inverseStep(step: number, re: Float64Array, im: Float64Array, samples: Float32Array | Float64Array): void {
    const { parts } = this;
    const part = step % parts;
    if (step < 2 * parts) this.tangle(step, re, im);
    else if (step < this.inverseSteps - parts) this.round((step - part) / parts - 2, part);
    else this.give(part, samples);
  }

  private tangle(step: number, re: Float64Array, im: Float64Array): void {
    const { half, stepPoints, reversed, cosines, sines } = this;
    const a = this.re;
    const b = this.im;
    const scale = 1 / half;
    const end = ((step + 1) * stepPoints) >> 1;
    for (let k = (step * stepPoints) >> 1; k < end; k++) {
      const m = half - k;
      const evenRe = 0.5 * (re[k] + re[m]);
      const evenIm = 0.5 * (im[k] - im[m]);
      const turnedRe = 0.5 * (re[k] - re[m]);
      const turnedIm = 0.5 * (im[k] + im[m]);
      const c = cosines[k];
      const s = sines[k];
      const oddRe = c * turnedRe - s * turnedIm;
      const oddIm = c * turnedIm + s * turnedRe;
      // Conjugated, so that the same transform leads back.
      const to = reversed[k];
      a[to] = scale * (evenRe - oddIm);
      b[to] = -scale * (evenIm + oddRe);
    }
  }

  private give(part: number, samples: Float32Array | Float64Array): void {
    const { stepPoints } = this;
    const a = this.re;
    const b = this.im;
    for (let i = part * stepPoints; i < (part + 1) * stepPoints; i++) {
      samples[2 * i] = a[i];
      samples[2 * i + 1] = -b[i];
    }
  }

  /** Part of a round of the complex transform of what stands, in mirrored order, in `re` and `im`. */
  private round(n: number, part: number): void {
    const { span, double } = this.rounds[n];
    if (span === 1) this.firstRounds(part);
    else if (double) this.doubleRound(span, part);
    else this.singleRound(span, part);
  }

  private firstRounds(part: number): void {
    const { half, stepPoints } = this;
    const a = this.re;
    const b = this.im;
    if (half >= 4) {
      // The first two rounds together: their factors are 1 and −i.
      for (let i = part * stepPoints; i < (part + 1) * stepPoints; i += 4) {
        const re0 = a[i] + a[i + 1];
        const im0 = b[i] + b[i + 1];
        const re1 = a[i] - a[i + 1];
        const im1 = b[i] - b[i + 1];
        const re2 = a[i + 2] + a[i + 3];
        const im2 = b[i + 2] + b[i + 3];
        const re3 = b[i + 2] - b[i + 3];
        const im3 = a[i + 3] - a[i + 2];
        a[i] = re0 + re2;
        b[i] = im0 + im2;
        a[i + 2] = re0 - re2;
        b[i + 2] = im0 - im2;
        a[i + 1] = re1 + re3;
        b[i + 1] = im1 + im3;
        a[i + 3] = re1 - re3;
        b[i + 3] = im1 - im3;
      }
    } else if (half === 2) {
      const re = a[1];
      const im = b[1];
      a[1] = a[0] - re;
      b[1] = b[0] - im;
      a[0] += re;
      b[0] += im;
    }
  }

  private doubleRound(span: number, part: number): void {
    const { half, parts, cosines, sines } = this;
    const a = this.re;
    const b = this.im;
    const stride = half / span; // in the table, which counts in turns of `size`
    const wide = stride / 2;
    const end = Math.floor((span * (part + 1)) / parts);
    for (let k = Math.floor((span * part) / parts); k < end; k++) {
      const c1 = cosines[k * stride];
      const s1 = sines[k * stride];
      const c2 = cosines[k * wide];
      const s2 = sines[k * wide];
      const c3 = cosines[(k + span) * wide];
      const s3 = sines[(k + span) * wide];
      for (let i = k; i < half; i += 4 * span) {
        const j = i + span;
        const l = j + span;
        const m = l + span;
        const xj = a[j] * c1 + b[j] * s1;
        const yj = b[j] * c1 - a[j] * s1;
        const xm = a[m] * c1 + b[m] * s1;
        const ym = b[m] * c1 - a[m] * s1;
        const re0 = a[i] + xj;
        const im0 = b[i] + yj;
        const re1 = a[i] - xj;
        const im1 = b[i] - yj;
        const re2 = a[l] + xm;
        const im2 = b[l] + ym;
        const re3 = a[l] - xm;
        const im3 = b[l] - ym;
        const xl = re2 * c2 + im2 * s2;
        const yl = im2 * c2 - re2 * s2;
        const xn = re3 * c3 + im3 * s3;
        const yn = im3 * c3 - re3 * s3;
        a[i] = re0 + xl;
        b[i] = im0 + yl;
        a[l] = re0 - xl;
        b[l] = im0 - yl;
        a[j] = re1 + xn;
        b[j] = im1 + yn;
        a[m] = re1 - xn;
        b[m] = im1 - yn;
      }
    }
  }

  private singleRound(span: number, part: number): void {
    const { half, parts, cosines, sines } = this;
    const a = this.re;
    const b = this.im;
    const stride = half / span;
    const end = Math.floor((span * (part + 1)) / parts);
    for (let k = Math.floor((span * part) / parts); k < end; k++) {
      const c = cosines[k * stride];
      const s = sines[k * stride];
      for (let i = k; i < half; i += 2 * span) {
        const j = i + span;
        const x = a[j] * c + b[j] * s;
        const y = b[j] * c - a[j] * s;
        a[j] = a[i] - x;
        b[j] = b[i] - y;
        a[i] += x;
        b[i] += y;
      }
    }
  }
}
