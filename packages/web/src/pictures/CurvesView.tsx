import type { CurvePicture } from '@hexenkessel/core/stages';
import { figure, placeOn, spoken, valueAt } from './axes.ts';
import { MovingHandle, type PlayingStage } from './MovingHandle.tsx';
import { numberIn, type SetValues } from './setValues.ts';
import { useDrag } from './useDrag.ts';

const WIDTH = 400;
const HEIGHT = 150;
const LEFT = 30;
const BOTTOM = 16;
const TOP = 4;
const RIGHT = 6;

interface Props {
  readonly picture: CurvePicture;
  /** Left out where nothing can be set. */
  readonly onSet?: SetValues | undefined;
  /** Whose it is, where it plays: then handles that are moved show where they are. */
  readonly playing?: PlayingStage | undefined;
}

/** Curves over two axes, with points to be dragged. */
export function CurvesView({ picture, onSet, playing }: Props) {
  const { x, y, curves, handles, title } = picture;
  const across = (value: number) => LEFT + placeOn(x, value) * (WIDTH - LEFT - RIGHT);
  const down = (value: number) => TOP + (1 - placeOn(y, value)) * (HEIGHT - TOP - BOTTOM);
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      role={onSet ? 'group' : 'img'}
      aria-label={title}
      width="100%"
      height="100%"
    >
      {x.ticks.map((tick) => (
        <g key={`x${tick}`}>
          <line
            x1={across(tick)}
            x2={across(tick)}
            y1={TOP}
            y2={HEIGHT - BOTTOM}
            stroke="var(--chakra-colors-rule)"
            strokeWidth="0.6"
          />
          <text
            x={across(tick) > WIDTH - 2 * RIGHT ? WIDTH : across(tick)}
            y={HEIGHT - 4}
            style={{ fontSize: '9px' }}
            textAnchor={across(tick) > WIDTH - 2 * RIGHT ? 'end' : 'middle'}
            fill="var(--chakra-colors-faded)"
          >
            {figure(tick, x.unit)}
          </text>
        </g>
      ))}
      {y.ticks.map((tick) => (
        <g key={`y${tick}`}>
          <line
            x1={LEFT}
            x2={WIDTH - RIGHT}
            y1={down(tick)}
            y2={down(tick)}
            stroke="var(--chakra-colors-rule)"
            strokeWidth="0.6"
          />
          <text
            x={LEFT - 4}
            y={down(tick) + 3}
            style={{ fontSize: '9px' }}
            textAnchor="end"
            fill="var(--chakra-colors-faded)"
          >
            {figure(tick, y.unit)}
          </text>
        </g>
      ))}
      {curves.toReversed().map(({ label, points, faint }, n, all) => (
        <polyline
          key={label}
          fill="none"
          stroke={faint ? 'var(--chakra-colors-copper)' : 'var(--chakra-colors-ink)'}
          strokeOpacity={faint ? 0.35 + (0.35 * n) / all.length : 1}
          strokeWidth={faint ? 1 : 1.8}
          strokeDasharray={label === '1:1' ? '3 3' : undefined}
          points={pairs(points)
            .map(([px, py]) => `${across(px).toFixed(1)},${down(py).toFixed(1)}`)
            .join(' ')}
        >
          <title>{label}</title>
        </polyline>
      ))}
      {playing &&
        handles.map((handle) => (
          <MovingHandle key={handle.label} handle={handle} stage={playing} across={across} down={down} />
        ))}
      {onSet &&
        handles.map((handle) => (
          <Handle
            key={handle.label}
            handle={handle}
            picture={picture}
            onSet={onSet}
            at={[across(handle.x), down(handle.y)]}
          />
        ))}
    </svg>
  );
}

function Handle({
  handle,
  picture: { x, y },
  onSet,
  at,
}: {
  readonly handle: CurvePicture['handles'][number];
  readonly picture: CurvePicture;
  readonly onSet: SetValues;
  readonly at: readonly [number, number];
}) {
  const { label, xParam, yParam } = handle;
  const at01 = (across: number, up: number) => {
    const values: Record<string, number> = { [xParam]: rounded(valueAt(x, across)) };
    if (yParam !== undefined) values[yParam] = rounded(valueAt(y, up));
    return values;
  };
  const drag = useDrag(
    (px, py, gesture) =>
      onSet(
        at01((px * WIDTH - LEFT) / (WIDTH - LEFT - RIGHT), 1 - (py * HEIGHT - TOP) / (HEIGHT - TOP - BOTTOM)),
        gesture,
      ),
    (right, up, gesture) =>
      onSet(
        (now) =>
          at01(
            placeOn(x, numberIn(now, xParam, handle.x)) + right / 100,
            placeOn(y, yParam === undefined ? handle.y : numberIn(now, yParam, handle.y)) + up / 100,
          ),
        gesture,
      ),
  );
  const text = [spoken(handle.x, x.unit), ...(yParam === undefined ? [] : [spoken(handle.y, y.unit)])].join(', ');
  return (
    <g
      {...drag}
      role="slider"
      aria-label={label}
      aria-valuenow={handle.x}
      aria-valuemin={x.min}
      aria-valuemax={x.max}
      aria-valuetext={text}
    >
      <circle cx={at[0]} cy={at[1]} r="12" fill="transparent" />
      <circle
        cx={at[0]}
        cy={at[1]}
        r="5"
        fill="var(--chakra-colors-sheet)"
        stroke="var(--chakra-colors-verdigris)"
        strokeWidth="2"
      />
      <text x={at[0] + 8} y={at[1] - 6} style={{ fontSize: '9px' }} fill="var(--chakra-colors-verdigris)">
        {label.replace('band ', '')}
      </text>
    </g>
  );
}

const rounded = (value: number) => Number(value.toPrecision(3));

function pairs(points: readonly number[]): [number, number][] {
  return Array.from({ length: points.length / 2 }, (_, n) => [points[2 * n], points[2 * n + 1]]);
}
