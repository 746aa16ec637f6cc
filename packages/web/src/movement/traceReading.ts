/** Reading a trace: its value at a time, and its line. */
import type { MovementTrace } from '@hexenkessel/core/engine';

/** A trace's value at a time in seconds from the source's first frame. */
export function tracedAt(trace: MovementTrace, values: Float32Array | undefined, seconds: number): number | undefined {
  if (!values || values.length === 0) return undefined;
  const at = (seconds * trace.sampleRate - trace.origin) / trace.step;
  const whole = Math.max(0, Math.min(values.length - 1, Math.floor(at)));
  const next = Math.min(values.length - 1, whole + 1);
  return values[whole] + Math.max(0, Math.min(1, at - whole)) * (values[next] - values[whole]);
}

/** A line through the highest and the lowest value of each column. */
export function tracePath(values: Float32Array, width: number, height: number, both: boolean): string {
  const down = (value: number) => 2 + (1 - (both ? (value + 1) / 2 : value)) * (height - 4);
  const columns = Math.min(values.length, Math.max(1, Math.round(width)));
  const parts: string[] = [];
  for (let c = 0; c < columns; c++) {
    const from = Math.floor((c * values.length) / columns);
    const to = Math.max(from + 1, Math.floor(((c + 1) * values.length) / columns));
    const x = ((c / Math.max(1, columns - 1)) * width).toFixed(1);
    let [least, most] = [Infinity, -Infinity];
    for (let i = from; i < to; i++) {
      least = Math.min(least, values[i]);
      most = Math.max(most, values[i]);
    }
    const rising = values[from] <= values[to - 1];
    parts.push(`${x},${down(rising ? least : most).toFixed(1)}`);
    if (most > least) parts.push(`${x},${down(rising ? most : least).toFixed(1)}`);
  }
  return `M${parts.join('L')}`;
}
