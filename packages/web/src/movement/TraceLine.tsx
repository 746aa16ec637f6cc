import { useMemo } from 'react';
import { modulatorDefinition } from '@hexenkessel/core/engine';
import { useTrace } from './traceContext.ts';
import { tracePath } from './traceReading.ts';

const WIDTH = 300;
const HEIGHT = 40;

/** A modulator's way over the sound, small. */
export function TraceLine({ id, kind }: { readonly id: string; readonly kind: string }) {
  const trace = useTrace();
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
