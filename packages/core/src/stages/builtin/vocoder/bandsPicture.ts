import { exp, gainToDecibels, log } from '../../../dsp/portableMath.ts';
import type { DrawnCurve, StagePicture } from '../../../model/picture.ts';
import { axis } from '../../drawing/axis.ts';
import { FREQUENCY_AXIS } from '../../drawing/response.ts';
import { bandMiddle, bandQuality } from './bandBank.ts';

/** The bands that the carrier is cut into. */
export function bandsPicture(values: Readonly<Record<'bands' | 'stretch' | 'bandShift', number>>): StagePicture {
  const bands = Math.round(values.bands);
  const middle = log(bandMiddle((bands - 1) / 2, bands));
  const curves = Array.from({ length: bands }, (_, band): DrawnCurve => {
    const at = exp(
      middle + values.stretch * (log(bandMiddle(band, bands)) - middle) + (values.bandShift / 12) * log(2),
    );
    const points: number[] = [];
    for (let n = -24; n <= 24; n++) {
      const hertz = at * exp((n / 24) * 1.2 * log(2));
      // Two sections in a row, each 1 / √(1 + Q² (f/f0 − f0/f)²).
      const off = bandQuality(band, bands) * (hertz / at - at / hertz);
      if (hertz >= FREQUENCY_AXIS.min && hertz <= FREQUENCY_AXIS.max)
        points.push(hertz, Math.max(-30, -gainToDecibels(1 + off * off)));
    }
    return { label: `band ${band + 1}`, points, faint: band % 2 === 1 };
  }).filter(({ points }) => points.length >= 4);
  return {
    type: 'curves',
    title: 'Carrier bands',
    x: FREQUENCY_AXIS,
    y: axis('level', 'dB', -30, 3, [-24, -12, 0]),
    curves,
    handles: [],
  };
}
