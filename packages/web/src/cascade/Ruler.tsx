import { Box } from '@chakra-ui/react';
import { useRef, type PointerEvent } from 'react';
import { barSeconds, beatSeconds, showBarsBeats, showSeconds, type Timing } from '@hexenkessel/core/model';
import type { Region } from '../chain/playbackSlice.ts';
import style from './Ruler.module.css';
import { nearest } from './snapping.ts';
import { markStep, marks, toPixel, toSeconds, type TimeScale } from './timeScale.ts';

interface Props {
  readonly scale: TimeScale;
  readonly timing: Timing;
  readonly region: Region | null;
  readonly onRegion: (region: Region | null) => void;
  /** Where notes begin in the sound, in seconds. */
  readonly onsets: readonly number[];
  /** A drag has ended with this region. */
  readonly onRested: (region: Region) => void;
  /** A place was pointed at, in seconds, without dragging. */
  readonly onPlace: (seconds: number) => void;
}

const SECONDS = [
  0.00001, 0.00002, 0.00005, 0.0001, 0.0002, 0.0005, 0.001, 0.002, 0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10,
  30, 60, 300, 600,
];

/** As many digits as the marks need to differ. */
function clockText(seconds: number, step: number): string {
  if (Math.abs(seconds) < 1e-9) return '0 s';
  return step >= 0.01 ? showSeconds(seconds) : `${seconds.toFixed(Math.ceil(-Math.log10(step)))} s`;
}

/** Pixels within which an edge of the region jumps to a beat or a transient. */
const SNAP = 6;

/**
 * Bars and beats above, seconds below. Dragging along it marks the region that is played; it snaps to transients and beats and,
 * away from them, to zero crossings; with Shift it goes free. A click plays from there.
 */
export function Ruler({ scale, timing, region, onsets, onRegion, onRested, onPlace }: Props) {
  const anchor = useRef(0);
  const beat = beatSeconds(timing);
  const bar = barSeconds(timing);
  const musical = markStep(scale, [beat, ...[1, 2, 4, 8, 16, 32, 64, 128].map((n) => n * bar)], 46);
  const clock = markStep(scale, SECONDS, 74);
  const at = (event: PointerEvent<HTMLDivElement>) =>
    toSeconds(scale, event.clientX - event.currentTarget.getBoundingClientRect().left);
  const snapped = (seconds: number, free: boolean) => {
    if (free) return seconds;
    const reach = (SNAP * (scale.end - scale.start)) / scale.width;
    const onBeat = Math.round(seconds / beat) * beat;
    const near = [onBeat, nearest(onsets, seconds, reach)].filter((place) => place !== undefined);
    return (
      near
        .filter((place) => Math.abs(place - seconds) <= reach)
        .sort((a, b) => Math.abs(a - seconds) - Math.abs(b - seconds))[0] ?? seconds
    );
  };
  const dragged = useRef(false);
  const marked = useRef<Region>(undefined);
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
        if (one === other) return;
        marked.current = { start: Math.min(one, other), end: Math.max(one, other) };
        onRegion(marked.current);
      }}
      onPointerUp={(event) => {
        if (!dragged.current) onPlace(at(event));
        else if (marked.current && !event.shiftKey) onRested(marked.current);
      }}
    >
      {marks(scale, musical).map((seconds) => (
        <div
          key={`m${seconds}`}
          className={style['bar']}
          style={{ transform: `translateX(${toPixel(scale, seconds)}px)` }}
        >
          {showBarsBeats(seconds, timing)}
        </div>
      ))}
      {marks(scale, clock).map((seconds) => (
        <div
          key={`s${seconds}`}
          className={style['second']}
          style={{ transform: `translateX(${toPixel(scale, seconds)}px)` }}
        >
          {clockText(seconds, clock)}
        </div>
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
