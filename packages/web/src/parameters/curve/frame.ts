/** Size of a picture that a curve is drawn in, and the room around the curve. */
export interface CurveFrame {
  readonly width: number;
  readonly height: number;
  readonly top: number;
  readonly bottom: number;
  readonly left: number;
  readonly right: number;
}

/** The picture beside the rows. */
export const FRAME: CurveFrame = { width: 400, height: 150, top: 8, bottom: 14, left: 30, right: 8 };

export const clamp = (value: number, low: number, high: number): number => Math.max(low, Math.min(high, value));
