import type { KeyboardEvent } from 'react';
import { bentWay, type CurvePoint } from '@hexenkessel/core/stages';
import { useDrag } from '../../pictures/useDrag.ts';
import { clamp } from './frame.ts';

interface PointProps {
  readonly index: number;
  readonly point: CurvePoint;
  readonly text: string;
  readonly at: readonly [number, number];
  readonly onMove: (x: number, y: number, gesture: string) => void;
  readonly onStep: (right: number, up: number, gesture: string) => void;
  readonly onRemove: () => void;
}

/** A breakpoint, dragged or moved by keys. */
export function Point({ index, point, text, at, onMove, onStep, onRemove }: PointProps) {
  const drag = useDrag(onMove, onStep);
  return (
    <g
      {...drag}
      role="slider"
      aria-label={`Breakpoint ${index + 1}`}
      aria-valuenow={point.value}
      aria-valuetext={text}
      onDoubleClick={(event) => {
        event.stopPropagation();
        onRemove();
      }}
      onKeyDown={(event: KeyboardEvent<SVGElement>) => {
        if (event.key === 'Delete' || event.key === 'Backspace') {
          event.stopPropagation();
          onRemove();
        } else drag.onKeyDown(event);
      }}
    >
      <circle cx={at[0]} cy={at[1]} r="12" fill="transparent" />
      <circle
        cx={at[0]}
        cy={at[1]}
        r="4.5"
        fill="var(--chakra-colors-sheet)"
        stroke="var(--chakra-colors-verdigris)"
        strokeWidth="2"
      >
        <title>{`${text}: drag, arrow keys, double-click or Delete removes it`}</title>
      </circle>
    </g>
  );
}

interface BendProps {
  readonly label: string;
  readonly point: CurvePoint;
  readonly next: CurvePoint;
  readonly across: (at: number) => number;
  readonly down: (height: number) => number;
  /** Of the picture. */
  readonly height: number;
  readonly onBend: (bend: number, gesture: string) => void;
}

/** The middle of a segment, dragged up and down to bend it. */
export function Bend({ label, point, next, across, down, height: pictureHeight, onBend }: BendProps) {
  const x = (across(point.at) + across(next.at)) / 2;
  const height = point.value + (next.value - point.value) * bentWay(0.5, point.bend);
  const rise = next.value - point.value;
  const drag = useDrag(
    (_, y, gesture) => {
      // Where the middle should be, between the two ends, leads back to the bend by halving.
      const [top, bottom] = [down(point.value), down(next.value)];
      const share = clamp((y * pictureHeight - top) / (bottom - top || 1), 0.02, 0.98);
      let [low, high] = [-1, 1];
      for (let n = 0; n < 24; n++) {
        const middle = (low + high) / 2;
        if (bentWay(0.5, middle) > share) low = middle;
        else high = middle;
      }
      onBend(Math.round(50 * (low + high)) / 100, gesture);
    },
    (right, up, gesture) =>
      onBend(clamp(Math.round(100 * (point.bend + (Math.sign(-rise) * up + right) / 20)) / 100, -1, 1), gesture),
  );
  if (rise === 0 || across(next.at) - across(point.at) < 24) return null;
  return (
    <g {...drag} role="slider" aria-label={label} aria-valuenow={point.bend} aria-valuemin={-1} aria-valuemax={1}>
      <rect x={x - 12} y={down(height) - 12} width="24" height="24" fill="transparent" />
      <rect
        x={x - 3}
        y={down(height) - 3}
        width="6"
        height="6"
        fill="var(--chakra-colors-sheet)"
        stroke="var(--chakra-colors-copper)"
        transform={`rotate(45 ${x} ${down(height)})`}
      >
        <title>Drag to curve the segment</title>
      </rect>
    </g>
  );
}
