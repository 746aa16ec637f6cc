import { exp } from './portableMath.ts';
import { Waveshaper, type Shape } from './waveshaper.ts';

/** Root of the mean square of the sound that comes out as loud as it went in: −18 dBFS. */
const REFERENCE = 0.12589254117941673;
const POINTS = 512;

let quantiles: Float64Array | undefined;

/** The middles of so many equally likely parts of a normal distribution of variance 1, falling apart from its density. */
function normalQuantiles(): Float64Array {
  if (quantiles) return quantiles;
  const found = new Float64Array(POINTS);
  const step = 1 / 4096;
  const density = (z: number) => exp((-z * z) / 2) / Math.sqrt(2 * 3.141592653589793);
  let below = 0.5;
  for (let z = 0, n = POINTS / 2; n < POINTS; z += step) {
    below += step * density(z + step / 2);
    while (n < POINTS && below >= (n + 0.5) / POINTS) {
      found[n] = z + step;
      found[POINTS - 1 - n] = -found[n];
      n++;
    }
  }
  const variance = found.reduce((sum, z) => sum + z * z, 0) / POINTS;
  return (quantiles = found.map((z) => z / Math.sqrt(variance)));
}

/**
 * The gain behind a shape that keeps the power of a Gaussian signal of −18 dBFS, without the direct current that a bias
 * leaves. Unlike a match at one amplitude it changes as smoothly as the shape is pushed. Allocates nothing once made.
 */
export class LevelMatch {
  private readonly curve: Waveshaper;
  private readonly points: Float64Array;

  constructor(shape: Shape) {
    this.curve = new Waveshaper(shape, false);
    this.points = normalQuantiles();
  }

  /** As linear as its arguments; `bias` in ceilings. */
  gain(push: number, ceiling: number, bias: number): number {
    const { curve, points } = this;
    const scale = (REFERENCE * push) / ceiling;
    let sum = 0;
    let squares = 0;
    for (let n = 0; n < POINTS; n++) {
      const y = curve.reaching(scale * points[n] + bias);
      sum += y;
      squares += y * y;
    }
    const mean = sum / POINTS;
    return REFERENCE / (ceiling * Math.sqrt(Math.max(1e-12, squares / POINTS - mean * mean)));
  }
}
