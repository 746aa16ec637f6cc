/** Curves over the frequency. */
import { exp, gainToDecibels, log } from '../dsp/portableMath.ts';
import { type StageDocument } from '../chain/schema.ts';
import { EQUALISER_BANDS } from '../stages/builtin/equaliser.ts';
import { stageOf } from '../stages/builtin/index.ts';
import type { LiveStage, ResolvedValues } from '../stages/contract.ts';
import type { Params } from '../params/params.ts';
import type { DrawnCurve, CurvePicture, StagePicture } from './model.ts';
import type { Numbers, Words } from './values.ts';
import { bandMiddle, bandQuality } from '../stages/builtin/vocoder/bandBank.ts';
import { FREQUENCY_AXIS, measureResponse } from './response.ts';
import { axis } from './values.ts';

const DECIBELS = axis('level', 'dB', -30, 18, [-24, -12, 0, 12]);

export function responsePicture(
  title: string,
  stage: StageDocument,
  moments: readonly (readonly [label: string, values: ResolvedValues<Params>, seconds: number])[],
  handles: readonly { readonly label: string; readonly xParam: string }[],
  values: ResolvedValues<Params>,
): CurvePicture {
  const definition = stageOf(stage.kind) as LiveStage;
  const curves = moments.map(([label, own, seconds], n): DrawnCurve => ({
    label,
    points: measureResponse(definition, own, seconds),
    faint: n > 0,
  }));
  return {
    type: 'curves',
    title,
    x: FREQUENCY_AXIS,
    y: DECIBELS,
    curves,
    handles: handles.map(({ label, xParam }) => ({
      label,
      x: values[xParam] as number,
      y: 0,
      xParam,
      yParam: undefined,
    })),
  };
}

export function equaliserPicture(values: ResolvedValues<Params>, stage: StageDocument): StagePicture {
  const picture = responsePicture('Response', stage, [['response', values, 0]], [], values);
  const bands = Array.from({ length: EQUALISER_BANDS }, (_, n) => n + 1).filter(
    (band) => values[`type${band}`] !== 'off',
  );
  return {
    ...picture,
    handles: bands.map((band) => {
      const hasGain = ['bell', 'low shelf', 'high shelf'].includes(values[`type${band}`] as string);
      return {
        label: `band ${band}`,
        x: values[`frequency${band}`] as number,
        y: hasGain ? (values[`gain${band}`] as number) : 0,
        xParam: `frequency${band}`,
        yParam: hasGain ? `gain${band}` : undefined,
      };
    }),
  };
}

/** Four moments of a slow movement: its own rate, made to go round once in so many seconds that little has to be run. */
export function movingPicture(title: string, values: ResolvedValues<Params>, stage: StageDocument): StagePicture {
  const still = { ...values, rate: 0.5 };
  const moments = [0, 0.25, 0.5, 1].map((seconds): [string, ResolvedValues<Params>, number] => [
    seconds === 0 ? 'at the beginning' : `${seconds / 2} of a turn on`,
    still,
    seconds,
  ]);
  return responsePicture(title, stage, moments, [], values);
}

/** The bands that the carrier is cut into. */
export function bandsPicture(values: Numbers): StagePicture {
  const bands = Math.round(values['bands']);
  const middle = log(bandMiddle((bands - 1) / 2, bands));
  const curves = Array.from({ length: bands }, (_, band): DrawnCurve => {
    const at = exp(
      middle + values['stretch'] * (log(bandMiddle(band, bands)) - middle) + (values['bandShift'] / 12) * log(2),
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
    title: 'The bands of what speaks',
    x: FREQUENCY_AXIS,
    y: axis('level', 'dB', -30, 3, [-24, -12, 0]),
    curves,
    handles: [],
  };
}

/** Where each frequency goes. */
export function shiftPicture(values: Numbers & Words): StagePicture {
  const { shift } = values as Numbers;
  const ticks = [0, 1000, 2000, 3000, 4000];
  const line = (by: number) => [Math.max(0, -by), Math.max(0, by), 4000, Math.max(0, 4000 + by)];
  return {
    type: 'curves',
    title: 'Where each frequency goes',
    x: axis('in', 'Hz', 0, 4000, ticks),
    y: axis('out', 'Hz', 0, 4000, ticks),
    curves: [
      { label: 'left', points: line(shift) },
      ...(values['sides'] === 'opposed' ? [{ label: 'right', points: line(-shift), faint: true }] : []),
      { label: 'unchanged', points: [0, 0, 4000, 4000], faint: true },
    ],
    handles: [],
  };
}
