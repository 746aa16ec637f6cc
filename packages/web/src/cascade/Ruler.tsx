import { Box, Text } from '@chakra-ui/react';
import { useRef, type PointerEvent } from 'react';
import { barSeconds, beatSeconds, showBarsBeats, showSeconds, type Timing } from '@hexenkessel/core/model';
import type { Region } from '../chain/benchSlice.ts';
import { markStep, marks, toPixel, toSeconds, type TimeScale } from './timeScale.ts';

interface Props {
  readonly scale: TimeScale;
  readonly timing: Timing;
  readonly region: Region | null;
  readonly onRegion: (region: Region | null) => void;
  /** A place was pointed at, in seconds, without dragging. */
  readonly onPlace: (seconds: number) => void;
}

const SECONDS = [0.001, 0.002, 0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 30, 60, 300, 600];

/** Pixels within which an edge of the region jumps to a beat. */
const SNAP = 6;

/**
 * Bars and beats above, seconds below. Dragging along it marks the region that is played; it snaps to beats, with Shift it
 * goes free. A click plays from there.
 */
export function Ruler({ scale, timing, region, onRegion, onPlace }: Props) {
  const anchor = useRef(0);
  const beat = beatSeconds(timing);
  const bar = barSeconds(timing);
  const musical = markStep(scale, [beat, ...[1, 2, 4, 8, 16, 32, 64, 128].map((n) => n * bar)], 46);
  const clock = markStep(scale, SECONDS, 64);
  const at = (event: PointerEvent<HTMLDivElement>) =>
    toSeconds(scale, event.clientX - event.currentTarget.getBoundingClientRect().left);
  const snapped = (seconds: number, free: boolean) => {
    const onBeat = Math.round(seconds / beat) * beat;
    return !free && Math.abs(toPixel(scale, onBeat) - toPixel(scale, seconds)) <= SNAP ? onBeat : seconds;
  };
  const dragged = useRef(false);
  return (
    <Box
      position="relative"
      overflow="hidden"
      whiteSpace="nowrap"
      height="38px"
      borderBottomWidth="1px"
      borderColor="ink"
      cursor="text"
      touchAction="none"
      userSelect="none"
      data-testid="ruler"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        anchor.current = at(event);
        dragged.current = false;
      }}
      onPointerMove={(event) => {
        if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
        const here = at(event);
        if (!dragged.current && Math.abs(toPixel(scale, here) - toPixel(scale, anchor.current)) < 4) return;
        dragged.current = true;
        const [one, other] = [anchor.current, here].map((place) => snapped(place, event.shiftKey));
        if (one !== other) onRegion({ start: Math.min(one, other), end: Math.max(one, other) });
      }}
      onPointerUp={(event) => {
        if (!dragged.current) onPlace(at(event));
      }}
    >
      {marks(scale, musical).map((seconds) => (
        <Box
          key={`m${seconds}`}
          position="absolute"
          top="0"
          height="18px"
          borderLeftWidth="1px"
          borderColor="faded"
          pl="1"
          style={{ left: toPixel(scale, seconds) }}
        >
          <Text fontSize="xs" fontFamily="mono" lineHeight="16px">
            {showBarsBeats(seconds, timing)}
          </Text>
        </Box>
      ))}
      {marks(scale, clock).map((seconds) => (
        <Box
          key={`s${seconds}`}
          position="absolute"
          bottom="0"
          height="16px"
          borderLeftWidth="1px"
          borderColor="rule"
          pl="1"
          style={{ left: toPixel(scale, seconds) }}
        >
          <Text fontSize="11px" fontFamily="mono" lineHeight="16px" color="faded">
            {Math.abs(seconds) < 1e-9 ? '0 s' : showSeconds(seconds)}
          </Text>
        </Box>
      ))}
      {region && (
        <Box
          position="absolute"
          top="0"
          bottom="0"
          bg="copper"
          opacity="0.3"
          pointerEvents="none"
          style={{
            left: toPixel(scale, region.start),
            width: toPixel(scale, region.end) - toPixel(scale, region.start),
          }}
        />
      )}
    </Box>
  );
}
