import { Box, Flex } from '@chakra-ui/react';
import { useState } from 'react';
import { InputError, beatSeconds, parseNumber, type Timing } from '@hexenkessel/core/model';
import { breakpointsOf, stampOnto, withShapesOf, type Curve, type CurveParam } from '@hexenkessel/core/stages';
import type { RowPicture } from '../../cascade/renderReport.ts';
import { Choice } from '../../parts/Choice.tsx';
import { CurveSurface, type Stretch } from './CurveSurface.tsx';
import { FRAME } from './frame.ts';
import { StampRow } from './StampRow.tsx';
import { inUnit, span } from './curveEdits.ts';

const { width: WIDTH, height: HEIGHT, top: TOP, bottom: BOTTOM, left: LEFT, right: RIGHT } = FRAME;

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
  const [stretch, setStretch] = useState<Stretch>();
  const across = (at: number) => LEFT + (Math.min(at, end) / end) * (WIDTH - LEFT - RIGHT);
  const down = (height: number) => TOP + ((max - height) / (max - min)) * (HEIGHT - TOP - BOTTOM);
  const shown = stretch ?? ([0, end] as const);
  const within = (text: string) => {
    const height = parseNumber(text);
    if (height < min || height > max) throw new InputError(`${height} is out of range; allowed is ${min} to ${max}.`);
    return height;
  };
  return (
    <Box data-testid="curve-editor" borderWidth="1px" borderColor="rule" bg="paper" mb="1">
      <CurveSurface
        label={`${label}, over the clip`}
        value={breakpointsOf(value)}
        min={min}
        max={max}
        step={step(param)}
        from={0}
        to={end}
        end={end}
        frame={FRAME}
        rounded={rounded}
        textOf={(at, height) => `${placeText(at, value.over)}, ${height}`}
        stretch={stretch}
        onStretch={setStretch}
        onChange={(next, gesture) => onChange(withShapesOf(value, next), gesture)}
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
      </CurveSurface>
      <Flex gap="2" px="2" pb="1" align="center" wrap="wrap" fontSize="xs">
        <StampRow
          parse={within}
          print={String}
          first={[0, min / 2]}
          stretch={[Math.min(...shown), Math.max(...shown)]}
          stretchText={`${placeText(Math.min(...shown), value.over)} – ${placeText(Math.max(...shown), value.over)}`}
          unit={
            <Choice
              label={`${label}, time unit`}
              value={value.over}
              options={[
                ['clip', '% of clip'],
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

export function placeText(at: number, over: Curve['over']): string {
  if (over === 'clip') return `${Number((100 * at).toFixed(1))} %`;
  return `${Number(at.toFixed(2))} ${over === 'seconds' ? 's' : at === 1 ? 'beat' : 'beats'}`;
}

const rounded = (value: number) => Math.round(100 * value) / 100;
const step = ({ unit }: CurveParam) => (unit === 'semitones' ? 1 : 0.01);
