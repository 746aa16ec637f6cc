/** Size of the picture that a curve is drawn in. */
export const FRAME = { width: 400, height: 150, top: 8, bottom: 14, left: 30, right: 8 } as const;

export const clamp = (value: number, low: number, high: number): number => Math.max(low, Math.min(high, value));
