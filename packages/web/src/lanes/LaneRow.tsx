import { Box, Flex, Switch, Text } from '@chakra-ui/react';
import { ChevronUp, SlidersHorizontal, X } from 'lucide-react';
import { useMemo, useState } from 'react';
import { BUILT_INS, breakpointsOf, withShapesOf, type Curve } from '@hexenkessel/core/stages';
import { findTarget, type LaneDocument, type Target, edits } from '@hexenkessel/core/chain';
import { useAppDispatch } from '../app/store.ts';
import { LABEL_WIDTH } from '../cascade/CascadeRow.tsx';
import type { RowPicture } from '../cascade/renderReport.ts';
import { rowBefore } from '../cascade/rowsBefore.ts';
import { useScale } from '../cascade/scaleContext.ts';
import { marks, toPixel, type TimeScale } from '../cascade/timeScale.ts';
import { isFirstDone, useRendered } from '../cascade/useRenderer.ts';
import { useShown } from '../chain/shownChain.ts';
import { laneFolded } from '../chain/viewSlice.ts';
import { edit } from '../chain/edit.ts';
import { placeText } from '../parameters/curve/CurveEditor.tsx';
import { CurveSurface, type Stretch } from '../parameters/curve/CurveSurface.tsx';
import { IconAction } from '../parts/IconAction.tsx';
import { laterPart, useFetchedLater } from '../parts/laterPart.tsx';
import { laneScale } from './laneScale.ts';
import { gridSeconds, unitSeconds, type Grid } from './laneTime.ts';

const LaneTools = laterPart(async () => (await import('./LaneTools.tsx')).LaneTools);
const LATER = [LaneTools];

/** Pixels. */
export const LANE_HEIGHT = 104;
const HEIGHT = LANE_HEIGHT;
/** Places in seconds that a lane may reach to, in its own unit bounded by the format. */
const LONGEST = 600;

interface Props {
  readonly lane: LaneDocument;
  /** The stage that the lane stands under: what goes into it is seen behind the lane; the source for a modulator. */
  readonly stageId?: string;
}

/** A lane under its stage, on the ruler that all rows share. */
export function LaneRow({ lane, stageId }: Props) {
  const dispatch = useAppDispatch();
  useFetchedLater(useRendered(isFirstDone), LATER);
  const scale = useScale();
  const timing = useShown((chain) => chain.timing);
  const stages = useShown((chain) => chain.stages);
  const target = useShown((chain) => findTarget(BUILT_INS, chain, lane.target), sameTarget);
  const backdrop = useRendered(({ rows }) => (stageId === undefined ? rows.source : rowBefore(stages, stageId, rows)));
  const sampleRate = useRendered((state) => state.sampleRate);
  const sourceSeconds = useRendered(({ sourceFrames, sampleRate: rate }) => sourceFrames / rate);
  const param = target?.param;
  const drawing = useMemo(() => (param ? laneScale(param, timing) : undefined), [param, timing]);
  const [stretch, setStretch] = useState<Stretch>();
  const [grid, setGrid] = useState<Grid>('free');
  const [tools, setTools] = useState(false);
  const places = useMemo(() => drawing?.toPlaces(lane.curve), [drawing, lane.curve]);
  if (!target || !drawing || !places) return null;
  const { over } = lane.curve;
  const unit = unitSeconds(over, timing, sourceSeconds);
  const spacing = gridSeconds(grid, timing);
  const snap = (at: number) => (spacing > 0 ? Math.round((at * unit) / spacing) * (spacing / unit) : at);
  const name = `${target.owner}, ${target.label}`;
  const change = (step: string) => (next: Curve, gesture?: string) =>
    dispatch(
      edit(
        edits.changeLane(BUILT_INS, lane.target, step, drawing.toValues(next)),
        gesture && `${gesture} ${lane.target}`,
      ),
    );
  const frame = { width: scale.width, height: HEIGHT, top: 10, bottom: 10, left: 0, right: 0 };
  return (
    <Box borderBottomWidth="1px" borderColor="rule" bg="sheet" data-lane={lane.target} opacity={lane.on ? 1 : 0.55}>
      <Flex>
        <Flex
          width={`${LABEL_WIDTH}px`}
          flexShrink={0}
          direction="column"
          justify="space-between"
          py="1"
          pl="9"
          pr="2"
          borderRightWidth="1px"
          borderColor="rule"
        >
          <Flex justify="space-between" align="baseline" gap="1">
            <Text fontSize="sm" truncate title={name}>
              {target.label}
            </Text>
            <Text fontSize="xs" color="faded" fontFamily="mono">
              {drawing.text(1)}
            </Text>
          </Flex>
          <Flex justify="space-between" align="center">
            <Flex align="center">
              <Switch.Root
                size="xs"
                checked={lane.on}
                onCheckedChange={({ checked }) => dispatch(edit(edits.switchLane(BUILT_INS, lane.target, checked)))}
              >
                <Switch.HiddenInput aria-label={`Lane of ${name} switched on`} />
                <Switch.Control />
              </Switch.Root>
              <IconAction
                label="Lane tools"
                aria-expanded={tools}
                minWidth="24px"
                height="24px"
                onClick={() => setTools(!tools)}
              >
                <SlidersHorizontal size={13} />
              </IconAction>
              <IconAction
                label={`Collapse the lane of ${name}`}
                minWidth="24px"
                height="24px"
                onClick={() => dispatch(laneFolded(lane.target))}
              >
                <ChevronUp size={13} />
              </IconAction>
              <IconAction
                label={`Remove the lane of ${name}`}
                minWidth="24px"
                height="24px"
                onClick={() => dispatch(edit(edits.removeLane(BUILT_INS, lane.target)))}
              >
                <X size={13} />
              </IconAction>
            </Flex>
            <Text fontSize="xs" color="faded" fontFamily="mono">
              {drawing.text(0)}
            </Text>
          </Flex>
        </Flex>
        <Box flex="1" minWidth="0" height={`${HEIGHT}px`} overflow="hidden">
          <CurveSurface
            label={`${name}, automated`}
            value={breakpointsOf(places)}
            min={0}
            max={1}
            step={0.01}
            from={scale.start / unit}
            to={scale.end / unit}
            end={over === 'clip' ? 1 : LONGEST / unit}
            frame={frame}
            stands={drawing.stands}
            snap={snap}
            rounded={drawing.rounded}
            textOf={(at, height) => `${placeText(at, over)}, ${drawing.text(height)}`}
            stretch={stretch}
            onStretch={setStretch}
            onChange={(next, gesture) => change('lane')(withShapesOf(places, next), gesture)}
          >
            {backdrop && (
              <path
                d={shadow(backdrop, scale, sampleRate)}
                stroke="var(--chakra-colors-ink)"
                strokeOpacity="0.13"
                pointerEvents="none"
              />
            )}
            {spacing > 0 &&
              marks(scale, spacing).map((seconds) => (
                <line
                  key={seconds}
                  x1={toPixel(scale, seconds)}
                  x2={toPixel(scale, seconds)}
                  y1="0"
                  y2={HEIGHT}
                  stroke="var(--chakra-colors-rule)"
                  strokeOpacity="0.7"
                  pointerEvents="none"
                />
              ))}
          </CurveSurface>
        </Box>
      </Flex>
      {tools && (
        <LaneTools.Part
          lane={lane}
          places={places}
          drawing={drawing}
          timing={timing}
          sourceSeconds={sourceSeconds}
          stretch={stretch}
          onStretch={setStretch}
          grid={grid}
          onGrid={setGrid}
          onChange={change}
          onValues={(step, curve) => dispatch(edit(edits.changeLane(BUILT_INS, lane.target, step, curve)))}
        />
      )}
    </Box>
  );
}

/** A waveform as thin strokes over the height of a lane. */
function shadow({ overview: { min, max }, start, end }: RowPicture, scale: TimeScale, sampleRate: number): string {
  const left = Math.max(0, Math.floor(toPixel(scale, start / sampleRate)));
  const right = Math.min(scale.width, Math.ceil(toPixel(scale, end / sampleRate)));
  const perColumn = (end - start) / max.length;
  const middle = HEIGHT / 2;
  const strokes: string[] = [];
  for (let x = left; x < right; x++) {
    const [from, to] = [x, x + 1].map((pixel) => {
      const seconds = scale.start + (pixel / scale.width) * (scale.end - scale.start);
      return Math.floor((seconds * sampleRate - start) / perColumn);
    });
    let [least, most] = [0, 0];
    for (let n = Math.max(0, from); n < Math.max(from + 1, to) && n < max.length; n++) {
      least = Math.min(least, min[n]);
      most = Math.max(most, max[n]);
    }
    strokes.push(`M${x + 0.5} ${(middle - most * middle).toFixed(1)}V${(middle - least * middle).toFixed(1)}`);
  }
  return strokes.join('');
}

/** What it is called and what it may be; where it stands does not matter to its lane. */
const sameTarget = (a: Target | undefined, b: Target | undefined) =>
  a === b || (a !== undefined && b !== undefined && a.param === b.param && a.owner === b.owner && a.label === b.label);
