import type { LiveStage, ResolvedValues } from '../stages/contract.ts';
import { resolveSetting, type Params } from '../params/params.ts';

const RATE = 48000;

/** How late a stage is at its default settings, in words. */
export function latencyText(stage: LiveStage): string {
  const values = Object.fromEntries(
    Object.entries(stage.params).map(([key, param]) => [
      key,
      resolveSetting(param, param.default, { tempo: 120, meter: [4, 4] }, RATE),
    ]),
  ) as ResolvedValues<Params>;
  const frames = stage.latencyFrames?.(values, RATE) ?? 0;
  if (frames === 0) return stage.latencyFrames ? 'No latency at default settings.' : 'No latency.';
  return `Latency at default settings: ${((1000 * frames) / RATE).toFixed(1)} ms (at 48 kHz), compensated in renders.`;
}
