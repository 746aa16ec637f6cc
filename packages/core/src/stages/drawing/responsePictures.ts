/** Frequency responses, measured. */
import type { CurvePicture, DrawnCurve, StagePicture } from '../../model/picture.ts';
import type { LiveStage, ResolvedValues } from '../contract.ts';
import type { Params } from '../../params/params.ts';
import { axis } from './axis.ts';
import { FREQUENCY_AXIS, measureResponse } from './response.ts';

const DECIBELS = axis('level', 'dB', -30, 18, [-24, -12, 0, 12]);

export function responsePicture(
  stage: LiveStage,
  title: string,
  moments: readonly (readonly [label: string, values: ResolvedValues<Params>, seconds: number])[],
  handles: readonly { readonly label: string; readonly xParam: string }[],
  values: ResolvedValues<Params>,
): CurvePicture {
  const curves = moments.map(([label, own, seconds], n): DrawnCurve => ({
    label,
    points: measureResponse(stage, own, seconds),
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

/** What part of a cycle of two seconds has gone by. */
const CYCLE_PARTS: Readonly<Record<number, string>> = { 0.25: '⅛', 0.5: '¼', 1: '½' };

/**
 * Four moments of a slow movement: its own rate, made to go round once in so many seconds that little has to be run; or the
 * one that it is at `now` seconds from the source's first frame.
 */
export function movingPicture(stage: LiveStage, values: ResolvedValues<Params>, now?: number): StagePicture {
  const still = { ...values, rate: 0.5 };
  if (now !== undefined) {
    const turns = now * (values['rate'] as number);
    const moment = 2 * (turns - Math.floor(turns));
    return responsePicture(stage, 'Notches, as they are now', [['now', still, moment]], [], values);
  }
  const title = 'Notches, at four moments of the movement';
  const moments = [0, 0.25, 0.5, 1].map((seconds): [string, ResolvedValues<Params>, number] => [
    seconds === 0 ? 'start' : `${CYCLE_PARTS[seconds]} cycle`,
    still,
    seconds,
  ]);
  return responsePicture(stage, title, moments, [], values);
}
