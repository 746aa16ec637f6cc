import { Box, Text } from '@chakra-ui/react';
import type { KeyboardEvent, PointerEvent } from 'react';
import type { SoundLoop } from '@hexenkessel/core/formats';

export const LOOP_COLOURS = { sustain: 'verdigris', release: 'copper' } as const;

interface SpanProps {
  readonly loop: SoundLoop;
  readonly left: number;
  readonly right: number;
  readonly frameAt: (event: PointerEvent<HTMLElement>) => number;
  readonly onEdge: (edge: 'start' | 'end', frame: number, free: boolean) => void;
}

/** A loop on the waveform, its edges to be dragged. */
export function LoopSpan({ loop, left, right, frameAt, onEdge }: SpanProps) {
  const colour = LOOP_COLOURS[loop.kind];
  const edge = (which: 'start' | 'end', x: number) => (
    <Box
      role="slider"
      tabIndex={0}
      aria-label={`${loop.kind} loop, ${which}`}
      aria-valuenow={loop[which]}
      aria-valuetext={`sample ${loop[which]}`}
      position="absolute"
      top="0"
      bottom="0"
      width="24px"
      ml="-12px"
      cursor="ew-resize"
      style={{ left: x, touchAction: 'none' }}
      onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
      onPointerMove={(event) => {
        if (event.currentTarget.hasPointerCapture(event.pointerId)) onEdge(which, frameAt(event), event.shiftKey);
      }}
      onKeyDown={(event: KeyboardEvent) => {
        const way = event.key === 'ArrowLeft' ? -1 : event.key === 'ArrowRight' ? 1 : 0;
        if (way === 0) return;
        event.preventDefault();
        onEdge(which, loop[which] + way * (event.shiftKey ? 100 : 1), true);
      }}
    >
      <Box position="absolute" left="11px" top="0" bottom="0" width="2px" bg={colour} />
      <Text
        position="absolute"
        top={loop.kind === 'sustain' ? '0' : '16px'}
        left={which === 'start' ? '14px' : undefined}
        right={which === 'end' ? '14px' : undefined}
        fontSize="xs"
        color={colour}
        whiteSpace="nowrap"
        userSelect="none"
      >
        {which === 'start' ? `${loop.kind} ▸` : '◂'}
      </Text>
    </Box>
  );
  return (
    <>
      <Box
        position="absolute"
        top="0"
        bottom="0"
        bg={colour}
        opacity="0.13"
        pointerEvents="none"
        style={{ left, width: Math.max(0, right - left) }}
      />
      {edge('start', left)}
      {edge('end', right)}
    </>
  );
}
