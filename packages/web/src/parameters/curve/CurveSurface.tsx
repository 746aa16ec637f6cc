import type { PointerEvent, ReactNode } from 'react';
import { bentWay, type Breakpoints, type CurvePoint } from '@hexenkessel/core/stages';
import { Bend, Point } from './CurveHandles.tsx';
import { clamp, type CurveFrame } from './frame.ts';
import { withPoint, withoutPoint } from './curveEdits.ts';

/** Places at which a bent segment is drawn. */
const FINENESS = 24;

export type Stretch = readonly [number, number];

interface Props {
  readonly label: string;
  readonly value: Breakpoints;
  /** Heights of the bottom and the top. */
  readonly min: number;
  readonly max: number;
  /** What a key press moves a height by. */
  readonly step: number;
  /** Places at the left and the right edge, and where a point may lie. */
  readonly from: number;
  readonly to: number;
  readonly end: number;
  readonly frame: CurveFrame;
  /** True: a value stands until the next point, as that of a switch. */
  readonly stands?: boolean;
  /** Where a dragged point comes to lie. */
  readonly snap?: (at: number) => number;
  readonly rounded: (height: number) => number;
  readonly textOf: (at: number, height: number) => string;
  readonly stretch: Stretch | undefined;
  readonly onStretch: (stretch: Stretch | undefined) => void;
  readonly onChange: (value: Breakpoints, gesture?: string) => boolean;
  /** Behind the curve. */
  readonly children?: ReactNode;
}

/**
 * The picture of a curve to work in: double-click makes a point, points are dragged, the middle of a segment bends it, a
 * drag over empty ground marks a stretch.
 */
export function CurveSurface(props: Props) {
  const { label, value, min, max, step, from, to, end, frame, stands = false, stretch, onStretch, onChange } = props;
  const { snap = (at: number) => at, rounded, textOf, children } = props;
  const { width, height, top, bottom, left, right } = frame;
  const across = (at: number) => left + ((Math.min(at, end) - from) / (to - from)) * (width - left - right);
  const down = (value: number) => top + ((max - value) / (max - min)) * (height - top - bottom);
  // No finer than can be pointed at.
  const placeAt = (x: number) =>
    Number(clamp(from + ((x * width - left) / (width - left - right)) * (to - from), 0, end).toPrecision(6));
  const heightAt = (y: number) => clamp(max - ((y * height - top) / (height - top - bottom)) * (max - min), min, max);
  const pointed = (event: { clientX: number; clientY: number; currentTarget: SVGSVGElement }) => {
    const box = event.currentTarget.getBoundingClientRect();
    return [placeAt((event.clientX - box.left) / box.width), heightAt((event.clientY - box.top) / box.height)] as const;
  };
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      width="100%"
      role="group"
      aria-label={label}
      style={{ touchAction: 'none', cursor: 'crosshair', display: 'block' }}
      onDoubleClick={(event) => {
        const [at, place] = pointed(event);
        onChange(withPoint(value, { at: snap(at), value: rounded(place), bend: 0 }));
      }}
      onPointerDown={(event: PointerEvent<SVGSVGElement>) => {
        if (event.target !== event.currentTarget || event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        const [at] = pointed(event);
        onStretch([at, at]);
      }}
      onPointerMove={(event: PointerEvent<SVGSVGElement>) => {
        if (!event.currentTarget.hasPointerCapture(event.pointerId) || !stretch) return;
        onStretch([stretch[0], pointed(event)[0]]);
      }}
      onPointerUp={() => {
        if (!stretch) return;
        const [a, b] = [Math.min(...stretch), Math.max(...stretch)];
        onStretch(b - a < (to - from) / 100 ? undefined : [snap(a), snap(b)]);
      }}
    >
      {children}
      {stretch && (
        <rect
          x={across(Math.min(...stretch))}
          y={top}
          width={Math.abs(across(stretch[1]) - across(stretch[0]))}
          height={height - top - bottom}
          fill="var(--chakra-colors-copper)"
          opacity="0.18"
          pointerEvents="none"
        />
      )}
      <polyline
        fill="none"
        stroke="var(--chakra-colors-ink)"
        strokeWidth="1.8"
        pointerEvents="none"
        points={drawn(value.points, Math.min(0, from), to, stands)
          .map(([at, place]) => `${across(at).toFixed(1)},${down(place).toFixed(1)}`)
          .join(' ')}
      />
      {!stands &&
        value.points
          .slice(0, -1)
          .map((point, n) => (
            <Bend
              key={`b${n}`}
              label={`Curve of segment ${n + 1}`}
              point={point}
              next={value.points[n + 1]}
              across={across}
              down={down}
              height={height}
              onBend={(bend, gesture) =>
                onChange(
                  { ...value, points: value.points.map((old, m) => (m === n ? { ...old, bend } : old)) },
                  gesture,
                )
              }
            />
          ))}
      {value.points.map((point, n) => (
        <Point
          key={n}
          index={n}
          point={point}
          text={textOf(point.at, point.value)}
          at={[across(point.at), down(point.value)]}
          onMove={(x, y, gesture) => onChange(movePoint(value, n, snap(placeAt(x)), rounded(heightAt(y))), gesture)}
          onStep={(along, up, gesture) =>
            onChange(
              movePoint(
                value,
                n,
                clamp(point.at + (along * (to - from)) / 100, 0, end),
                rounded(clamp(point.value + up * step, min, max)),
              ),
              gesture,
            )
          }
          onRemove={() => onChange(withoutPoint(value, n))}
        />
      ))}
    </svg>
  );
}

/** Places and heights along the curve, to its very ends. */
function drawn(points: readonly CurvePoint[], from: number, to: number, stands: boolean): [number, number][] {
  const line: [number, number][] = [[from, points[0].value]];
  points.forEach((point, n) => {
    const next = points[n + 1] as CurvePoint | undefined;
    if (stands && n > 0) line.push([point.at, points[n - 1].value]);
    line.push([point.at, point.value]);
    if (!next || point.bend === 0 || stands) return;
    for (let i = 1; i < FINENESS; i++) {
      const t = i / FINENESS;
      line.push([
        point.at + t * (next.at - point.at),
        point.value + bentWay(t, point.bend) * (next.value - point.value),
      ]);
    }
  });
  line.push([Math.max(to, points[points.length - 1].at), points[points.length - 1].value]);
  return line;
}

/** A point stays between its neighbours. */
function movePoint(curve: Breakpoints, index: number, at: number, value: number): Breakpoints {
  const low = curve.points[index - 1]?.at ?? 0;
  const high = curve.points[index + 1]?.at ?? Infinity;
  return {
    ...curve,
    points: curve.points.map((point, n) =>
      n === index ? { ...point, at: Number(clamp(at, low, high).toPrecision(9)), value } : point,
    ),
  };
}
