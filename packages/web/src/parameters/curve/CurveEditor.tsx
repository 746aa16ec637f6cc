import { Box, Flex } from '@chakra-ui/react';
import { useState, type PointerEvent } from 'react';
import {
  beatSeconds,
  bentWay,
  stampOnto,
  type Curve,
  type CurveParam,
  type CurvePoint,
  type Timing,
} from '@hexenkessel/core';
import type { RowPicture } from '../../cascade/renderWorker.ts';
import { Choice } from '../../parts/Choice.tsx';
import { Bend, Point } from './CurveHandles.tsx';
import { FRAME, clamp } from './frame.ts';
import { StampRow } from './StampRow.tsx';
import { inUnit, span, withPoint, withoutPoint } from './curveEdits.ts';

const { width: WIDTH, height: HEIGHT, top: TOP, bottom: BOTTOM, left: LEFT, right: RIGHT } = FRAME;
/** Places at which a bent segment is drawn. */
const FINENESS = 24;

interface Props {
  readonly label: string;
  readonly param: CurveParam;
  readonly value: Curve;
  readonly timing: Timing;
  /** Seconds of the clip it is drawn over. */
  readonly seconds: number;
  /** What goes into the stage, behind the curve. */
  readonly backdrop: RowPicture | undefined;
  /** False when the chain does not allow it. */
  readonly onChange: (value: Curve, gesture?: string) => boolean;
}

/** A curve over the clip: breakpoints to be dragged, segments to be bent, and shapes to be stamped between two places. */
export function CurveEditor({ label, param, value, timing, seconds, backdrop, onChange }: Props) {
  const { min, max } = param;
  const end = span(value.over, seconds, beatSeconds(timing));
  const [stretch, setStretch] = useState<readonly [number, number]>();
  const across = (at: number) => LEFT + (Math.min(at, end) / end) * (WIDTH - LEFT - RIGHT);
  const down = (height: number) => TOP + ((max - height) / (max - min)) * (HEIGHT - TOP - BOTTOM);
  const placeAt = (x: number) => Math.max(0, Math.min(end, ((x * WIDTH - LEFT) / (WIDTH - LEFT - RIGHT)) * end));
  const heightAt = (y: number) => max - ((y * HEIGHT - TOP) / (HEIGHT - TOP - BOTTOM)) * (max - min);
  const box = (event: PointerEvent<SVGSVGElement>) => {
    const { left, top, width, height } = event.currentTarget.getBoundingClientRect();
    return [placeAt((event.clientX - left) / width), heightAt((event.clientY - top) / height)] as const;
  };
  const shown = stretch ?? ([0, end] as const);
  return (
    <Box data-testid="curve-editor" borderWidth="1px" borderColor="rule" bg="paper" mb="1">
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        width="100%"
        role="group"
        aria-label={`${label}, drawn over the clip`}
        style={{ touchAction: 'none', cursor: 'crosshair', display: 'block' }}
        onDoubleClick={(event) => {
          const { left, top, width, height } = event.currentTarget.getBoundingClientRect();
          const at = placeAt((event.clientX - left) / width);
          onChange(withPoint(value, { at, value: rounded(heightAt((event.clientY - top) / height)), bend: 0 }));
        }}
        onPointerDown={(event) => {
          if (event.target !== event.currentTarget || event.button !== 0) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          const [at] = box(event);
          setStretch([at, at]);
        }}
        onPointerMove={(event) => {
          if (!event.currentTarget.hasPointerCapture(event.pointerId) || !stretch) return;
          setStretch([stretch[0], box(event)[0]]);
        }}
        onPointerUp={() => {
          if (!stretch) return;
          const [a, b] = [Math.min(...stretch), Math.max(...stretch)];
          setStretch(b - a < end / 100 ? undefined : [a, b]);
        }}
      >
        {backdrop && (
          <path
            d={waveform(backdrop)}
            stroke="var(--chakra-colors-ink)"
            strokeOpacity="0.14"
            strokeWidth="1.5"
            pointerEvents="none"
          />
        )}
        {stretch && (
          <rect
            x={across(Math.min(...stretch))}
            y={TOP}
            width={Math.abs(across(stretch[1]) - across(stretch[0]))}
            height={HEIGHT - TOP - BOTTOM}
            fill="var(--chakra-colors-copper)"
            opacity="0.18"
            pointerEvents="none"
          />
        )}
        {[max, (min + max) / 2, min].map((height) => (
          <g key={height} pointerEvents="none">
            <line x1={LEFT} x2={WIDTH - RIGHT} y1={down(height)} y2={down(height)} stroke="var(--chakra-colors-rule)" />
            <text
              x={LEFT - 4}
              y={down(height) + 3}
              style={{ fontSize: '9px' }}
              textAnchor="end"
              fill="var(--chakra-colors-faded)"
            >
              {height > 0 ? `+${height}` : String(height).replace('-', '−')}
            </text>
          </g>
        ))}
        {[0, 0.25, 0.5, 0.75, 1].map((share) => (
          <text
            key={share}
            x={across(share * end)}
            y={HEIGHT - 3}
            style={{ fontSize: '9px' }}
            textAnchor={share === 1 ? 'end' : 'middle'}
            fill="var(--chakra-colors-faded)"
            pointerEvents="none"
          >
            {placeText(share * end, value.over)}
          </text>
        ))}
        <polyline
          fill="none"
          stroke="var(--chakra-colors-ink)"
          strokeWidth="1.8"
          pointerEvents="none"
          points={drawn(value.points, end)
            .map(([at, height]) => `${across(at).toFixed(1)},${down(height).toFixed(1)}`)
            .join(' ')}
        />
        {value.points.slice(0, -1).map((point, n) => (
          <Bend
            key={`b${n}`}
            label={`Bend of segment ${n + 1}`}
            point={point}
            next={value.points[n + 1]}
            across={across}
            down={down}
            onBend={(bend, gesture) =>
              onChange({ ...value, points: value.points.map((old, m) => (m === n ? { ...old, bend } : old)) }, gesture)
            }
          />
        ))}
        {value.points.map((point, n) => (
          <Point
            key={n}
            index={n}
            point={point}
            text={`${placeText(point.at, value.over)}, ${point.value}`}
            at={[across(point.at), down(point.value)]}
            onMove={(x, y, gesture) =>
              onChange(movePoint(value, n, placeAt(x), clamp(rounded(heightAt(y)), min, max)), gesture)
            }
            onStep={(right, up, gesture) =>
              onChange(
                movePoint(
                  value,
                  n,
                  clamp(point.at + (right * end) / 100, 0, end),
                  clamp(rounded(point.value + up * step(param)), min, max),
                ),
                gesture,
              )
            }
            onRemove={() => onChange(withoutPoint(value, n))}
          />
        ))}
      </svg>
      <Flex gap="2" px="2" pb="1" align="center" wrap="wrap" fontSize="xs">
        <StampRow
          param={param}
          stretch={[Math.min(...shown), Math.max(...shown)]}
          stretchText={`${placeText(Math.min(...shown), value.over)} – ${placeText(Math.max(...shown), value.over)}`}
          unit={
            <Choice
              label={`${label} counts`}
              value={value.over}
              options={[
                ['clip', 'share of the clip'],
                ['seconds', 'seconds'],
                ['beats', 'beats'],
              ]}
              width="128px"
              onChange={(over) => onChange(inUnit(value, over, seconds, beatSeconds(timing)))}
            />
          }
          onStamp={(shape, from, to, cycles, seed) => {
            const [start, stop] = [Math.min(...shown), Math.max(...shown)];
            onChange(stampOnto(value, { shape, from, to, cycles, seed, start, end: stop }));
          }}
        />
      </Flex>
    </Box>
  );
}

/** A row's waveform as strokes over the whole width. */
function waveform({ overview: { min, max } }: RowPicture): string {
  const columns = Math.min(240, max.length);
  const room = (HEIGHT - TOP - BOTTOM) / 2;
  const middle = TOP + room;
  return Array.from({ length: columns }, (_, n) => {
    const [from, to] = [n, n + 1].map((column) => Math.floor((column * max.length) / columns));
    const most = Math.max(...max.subarray(from, to));
    const least = Math.min(...min.subarray(from, to));
    const x = LEFT + ((n + 0.5) / columns) * (WIDTH - LEFT - RIGHT);
    const y = (height: number) => (middle - room * Math.max(-1, Math.min(1, height))).toFixed(1);
    return `M${x.toFixed(1)} ${y(most)}V${y(least - 0.01)}`;
  }).join('');
}

/** Places and heights along the curve, to its very ends. */
function drawn(points: readonly CurvePoint[], end: number): [number, number][] {
  const line: [number, number][] = [[0, points[0].value]];
  points.forEach((point, n) => {
    const next = points[n + 1] as CurvePoint | undefined;
    line.push([point.at, point.value]);
    if (!next || point.bend === 0) return;
    for (let i = 1; i < FINENESS; i++) {
      const t = i / FINENESS;
      line.push([
        point.at + t * (next.at - point.at),
        point.value + bentWay(t, point.bend) * (next.value - point.value),
      ]);
    }
  });
  line.push([end, points[points.length - 1].value]);
  return line;
}

/** A point stays between its neighbours. */
function movePoint(curve: Curve, index: number, at: number, value: number): Curve {
  const low = curve.points[index - 1]?.at ?? 0;
  const high = curve.points[index + 1]?.at ?? Infinity;
  return {
    ...curve,
    points: curve.points.map((point, n) =>
      n === index ? { ...point, at: Number(clamp(at, low, high).toPrecision(6)), value } : point,
    ),
  };
}

function placeText(at: number, over: Curve['over']): string {
  if (over === 'clip') return `${Number((100 * at).toFixed(1))} %`;
  return `${Number(at.toFixed(2))} ${over === 'seconds' ? 's' : at === 1 ? 'beat' : 'beats'}`;
}

const rounded = (value: number) => Math.round(100 * value) / 100;
const step = ({ unit }: CurveParam) => (unit === 'semitones' ? 1 : 0.01);
