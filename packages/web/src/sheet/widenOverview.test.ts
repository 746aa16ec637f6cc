import { expect, test } from 'vitest';
import { overviewOf } from '@hexenkessel/core/analysis';
import { widenOverview } from './widenOverview.ts';

test('a row is brought to a wider ruler without losing a peak', () => {
  const samples = new Float32Array(10_000);
  samples[1234] = 0.9;
  samples[5000] = -0.7;
  const overview = overviewOf({ sampleRate: 48000, origin: -2000, channels: [samples] }, -2000, 8000, 8000);
  const wide = widenOverview(overview, -6000, 12_000);
  expect(wide.start).toBe(-6000);
  expect(wide.max).toHaveLength(640);
  const column = (frame: number) => Math.floor((frame + 6000) / wide.framesPerColumn);
  expect(wide.max[column(-766)]).toBeCloseTo(0.9, 6);
  expect(wide.min[column(3000)]).toBeCloseTo(-0.7, 6);
  expect(wide.max.filter((value) => value > 0)).toHaveLength(1);
  expect([...wide.rms.slice(0, column(-2100))].every((value) => value === 0)).toBe(true);
});
