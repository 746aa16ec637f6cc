import { Text } from '@chakra-ui/react';
import { showLevel } from '@hexenkessel/core';
import type { CascadeState } from '../cascade/useCascade.ts';

/** What the render measures, and how long the Cascade took to follow the last change. */
export function RenderMeasures({ cascade: { measures, busy, latency } }: { cascade: CascadeState }) {
  return (
    <Text fontFamily="mono" color="faded" whiteSpace="nowrap" data-testid="measures">
      {measures
        ? `peak ${showLevel(measures.peak)} · ${Number.isFinite(measures.loudness) ? `${measures.loudness.toFixed(1)} LUFS` : 'silent'}`
        : 'rendering …'}
      {busy ? ' …' : latency !== undefined ? ` · ${Math.round(latency)} ms` : ''}
    </Text>
  );
}
