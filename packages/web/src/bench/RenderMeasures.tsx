import { Button, HStack, Text } from '@chakra-ui/react';
import { showLevel, showLoudness } from '@hexenkessel/core/model';
import { shallowEqual } from 'react-redux';
import { useRendered, useRenderer } from '../cascade/useRenderer.ts';

/** What the render measures, and how long the Cascade took to follow the last change; long work is told and can be left. */
export function RenderMeasures() {
  const renderer = useRenderer();
  const { measures, busy, latency, progress, stopped, failed } = useRendered(
    (state) => ({
      measures: state.measures,
      busy: state.busy,
      latency: state.latency,
      progress: state.progress,
      stopped: state.stopped,
      failed: state.failure !== undefined,
    }),
    shallowEqual,
  );
  const long = busy && progress !== undefined;
  const went = busy ? ' …' : latency === undefined ? '' : ` · ${Math.round(latency)} ms`;
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
          : failed
            ? 'not rendered'
            : long
              ? `rendering … ${Math.round(100 * progress)} %`
              : measures
                ? `peak ${showLevel(measures.peak)} · ${showLoudness(measures.loudness)}${went}`
                : 'rendering …'}
      </Text>
      {long && (
        <Button size="2xs" variant="outline" borderColor="rule" onClick={() => renderer.stop()}>
          Stop
        </Button>
      )}
      {stopped && (
        <Button size="2xs" variant="outline" borderColor="rule" onClick={() => renderer.goOn()}>
          Resume
        </Button>
      )}
    </HStack>
  );
}

/** Why there is no render. */
export function RenderFailure() {
  const failure = useRendered((state) => state.failure);
  if (failure === undefined) return null;
  return (
    <Text role="alert" color="alarm" p="3">
      {failure}
    </Text>
  );
}
