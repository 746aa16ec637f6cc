/**
 * Soft saturation of a block in place: tanh(drive · x) / drive, the drive moving in a straight line; at unit gain for small signals. Written as one loop,
 * because a function called for every sample would have its result put in a box. Relative error below 1e-9.
 */
export function saturate(samples: Float32Array | Float64Array, frames: number, drive: number, driveEnd = drive): void {
  const step = (driveEnd - drive) / frames;
  let now = drive;
  for (let i = 0; i < frames; i++) {
    const x = samples[i] * now;
    const size = x < 0 ? -x : x;
    let bent: number;
    if (size < 0.05) {
      const z = x * x;
      bent = x * (1 - z * (1 / 3 - z * (2 / 15 - z * (17 / 315 - z * (62 / 2835)))));
    } else if (size > 20) {
      bent = x < 0 ? -1 : 1;
    } else {
      // e^(2|x|) as 2^k · e^r with |r| ≤ ln 2 / 2 (Cody & Waite, 1980).
      const k = Math.round(size * (2 * INVERSE_LN2));
      const r = 2 * size - k * LN2;
      let e =
        1 +
        r *
          (1 +
            r *
              (1 / 2 +
                r *
                  (1 / 6 +
                    r *
                      (1 / 24 + r * (1 / 120 + r * (1 / 720 + r * (1 / 5040 + r * (1 / 40320 + r * (1 / 362880)))))))));
      words[1] = (k + 1023) << 20;
      e *= power[0];
      const magnitude = (e - 1) / (e + 1);
      bent = x < 0 ? -magnitude : magnitude;
    }
    samples[i] = bent / now;
    now += step;
  }
}

const LN2 = 0.6931471805599453;
const INVERSE_LN2 = 1.4426950408889634;
const power = new Float64Array(1);
const words = new Int32Array(power.buffer); // [low, high]; low stays 0
