/** The ruler that all rows share: which stretch of time is shown on how many pixels. */
export interface TimeScale {
  /** Seconds from the source's first frame at the left and right edge. */
  readonly start: number;
  readonly end: number;
  readonly width: number;
}

export function toPixel(scale: TimeScale, seconds: number): number {
  return ((seconds - scale.start) / (scale.end - scale.start)) * scale.width;
}

export function toSeconds(scale: TimeScale, pixel: number): number {
  return scale.start + (pixel / scale.width) * (scale.end - scale.start);
}

/** Steps for ruler marks: the smallest of `steps` whose marks are at least `minPixels` apart. */
export function markStep(scale: TimeScale, steps: readonly number[], minPixels: number): number {
  const perSecond = scale.width / (scale.end - scale.start);
  return steps.find((step) => step * perSecond >= minPixels) ?? steps[steps.length - 1];
}

/** Multiples of `step` inside the scale. */
export function marks(scale: TimeScale, step: number): number[] {
  const first = Math.ceil(scale.start / step - 1e-9);
  const last = Math.floor(scale.end / step + 1e-9);
  return Array.from({ length: Math.max(0, last - first + 1) }, (_, i) => (first + i) * step);
}
