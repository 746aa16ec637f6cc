import { useMemo } from 'react';
import { modulatorDefinition } from '@hexenkessel/core';
import { useMovementView } from './traceContext.ts';

const WIDTH = 300;
const HEIGHT = 40;

/** A modulator's way over the sound, small. */
export function TraceLine({ id, kind }: { readonly id: string; readonly kind: string }) {
  const { trace } = useMovementView();
  const values = trace?.modulators[id];
  const both = modulatorDefinition(kind).polarity === 'both';
  const path = useMemo(() => (values ? tracePath(values, WIDTH, HEIGHT, both) : ''), [values, both]);
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} width="100%" height="100%" preserveAspectRatio="none" aria-hidden>
      <line
        x1="0"
        x2={WIDTH}
        y1={both ? HEIGHT / 2 : HEIGHT - 2}
        y2={both ? HEIGHT / 2 : HEIGHT - 2}
        stroke="var(--chakra-colors-rule)"
      />
      <path
        d={path}
        fill="none"
        stroke="var(--chakra-colors-verdigris)"
        strokeWidth="1.5"
        vectorEffect="non-scaling-stroke"
      />
    </svg>
  );
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
