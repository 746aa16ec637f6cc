import { Button, HStack, Text } from '@chakra-ui/react';
import { showLevel, showLoudness } from '@hexenkessel/core/model';
import type { CascadeSource, CascadeState } from '../cascade/useCascade.ts';

/** What the render measures, and how long the Cascade took to follow the last change; long work is told and can be left. */
export function RenderMeasures({ cascade }: { cascade: CascadeState & CascadeSource }) {
  const { measures, busy, latency, progress, stopped, stop, goOn } = cascade;
  const long = busy && progress !== undefined;
  return (
    <HStack gap="2">
      <Text
        fontFamily="mono"
        color="faded"
        whiteSpace="nowrap"
        data-testid="measures"
        aria-live={long ? 'polite' : 'off'}
      >
        {stopped
          ? 'render stopped'
          : measures && !long
            ? `peak ${showLevel(measures.peak)} · ${showLoudness(measures.loudness)}`
            : 'rendering …'}
        {long
          ? ` ${Math.round(100 * progress)} %`
          : busy
            ? ' …'
            : latency !== undefined && !stopped
              ? ` · ${Math.round(latency)} ms`
              : ''}
      </Text>
      {long && (
        <Button size="2xs" variant="outline" borderColor="rule" onClick={stop}>
          Stop
        </Button>
      )}
      {stopped && (
        <Button size="2xs" variant="outline" borderColor="rule" onClick={goOn}>
          Resume
        </Button>
      )}
    </HStack>
  );
}
