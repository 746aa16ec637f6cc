import { Box, Button, Flex, Text } from '@chakra-ui/react';
import { useState, type ReactNode } from 'react';
import {
  InputError,
  beatSeconds,
  parseNumber,
  parseTime,
  resolveTime,
  showSeconds,
  type Timing,
} from '@hexenkessel/core/model';
import { breakpointsOf, scaledInTime, scaledInValue, snapped, stampOnto, type Curve } from '@hexenkessel/core/stages';
import type { LaneDocument } from '@hexenkessel/core/chain';
import type { MidiLane } from '@hexenkessel/core/formats';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { tellDone, tellFailure } from '../app/toaster.tsx';
import { markedOn } from '../chain/playbackSlice.ts';
import { useShownSound } from '../chain/shownChain.ts';
import { laneCopied } from '../chain/viewSlice.ts';
import { readFile } from '../files/readFile.ts';
import { placeText } from '../parameters/curve/CurveEditor.tsx';
import type { Stretch } from '../parameters/curve/CurveSurface.tsx';
import { StampRow } from '../parameters/curve/StampRow.tsx';
import { inUnit } from '../parameters/curve/curveEdits.ts';
import { TypedValue } from '../parameters/TypedValue.tsx';
import { Choice } from '../parts/Choice.tsx';
import type { LaneScale } from './laneScale.ts';
import { GRIDS, gridSeconds, unitSeconds, type Grid } from './laneTime.ts';
import { useFilePick } from '../parts/useFilePick.tsx';

interface Props {
  readonly lane: LaneDocument;
  /** The lane with its values as places on the scale. */
  readonly places: Curve;
  readonly drawing: LaneScale;
  readonly timing: Timing;
  readonly sourceSeconds: number;
  /** The part that is marked, in what the lane counts. */
  readonly stretch: Stretch | undefined;
  readonly onStretch: (stretch: Stretch | undefined) => void;
  readonly grid: Grid;
  readonly onGrid: (grid: Grid) => void;
  /** Takes a lane in places, as a step of that name. */
  readonly onChange: (step: string) => (curve: Curve) => boolean;
  /** The same in the values of the setting; what is out of range is refused. */
  readonly onValues: (step: string, curve: Curve) => boolean;
}

/** What is done to a lane as a whole: shapes, grid, moving and stretching, copies, files. */
export function LaneTools(props: Props) {
  const { lane, places, drawing, timing, sourceSeconds, stretch, onStretch, grid, onGrid, onChange } = props;
  const sound = useShownSound();
  const { region } = useAppSelector((state) => markedOn(state, sound.id));
  const dispatch = useAppDispatch();
  const copied = useAppSelector((state) => state.view.copiedLane);
  const { over } = lane.curve;
  const drawn = breakpointsOf(places);
  const unit = unitSeconds(over, timing, sourceSeconds);
  const frame = { min: 0, max: 1, length: over === 'clip' ? 1 : Math.max(1, sourceSeconds) / unit };
  const [a, b] = stretch ? [Math.min(...stretch), Math.max(...stretch)] : [0, frame.length];
  const spacing = gridSeconds(grid, timing);
  const carried = (curve: Curve) => inUnit(curve, over, sourceSeconds, beatSeconds(timing));
  const small = { size: '2xs', variant: 'outline', borderColor: 'rule' } as const;
  /** A place in what the lane counts: a time, or a share of the clip. */
  const placed = (text: string): number => {
    const share = /^\s*([\d.,]+)\s*%\s*$/.exec(text);
    const at = share
      ? (parseNumber(share[1]) / 100) * (sourceSeconds / unit)
      : resolveTime(parseTime(text, timing.meter), timing, 48000) / unit;
    if (at < 0 || at > frame.length + 1e-9)
      throw new InputError(`${text} lies outside the lane; allowed is 0 s to ${showSeconds(frame.length * unit)}.`);
    return at;
  };
  const setPart = (one: number, other: number) => onStretch([Math.min(one, other), Math.max(one, other)]);
  return (
    <Flex columnGap="5" rowGap="1.5" px="3" py="1.5" wrap="wrap" fontSize="xs" borderTopWidth="1px" borderColor="rule">
      <Tools title="shape">
        <StampRow
          parse={drawing.parse}
          print={drawing.text}
          first={[drawn.points[0].value, drawn.points[0].value > 0.5 ? 0 : 1]}
          stretch={[a, b]}
          stretchText={`${placeText(a, over)} – ${placeText(b, over)}`}
          onStamp={(shape, from, to, cycles, seed) =>
            onChange(shape)(stampOnto(places, { shape, from, to, cycles, seed, start: a, end: b }))
          }
        />
      </Tools>
      <Tools title="range">
        <TypedValue
          label="Lane: range from"
          text={placeText(a, over)}
          width="70px"
          borderColor="rule"
          onCommit={(text) => setPart(placed(text), b)}
        />
        <Text>to</Text>
        <TypedValue
          label="Lane: range to"
          text={placeText(b, over)}
          width="70px"
          borderColor="rule"
          onCommit={(text) => setPart(a, placed(text))}
        />
        <Button
          {...small}
          disabled={!region}
          onClick={() => region && setPart(region.start / unit, Math.min(frame.length, region.end / unit))}
        >
          from the region
        </Button>
        <Button {...small} disabled={!stretch} onClick={() => onStretch(undefined)}>
          all
        </Button>
      </Tools>
      <Tools title="time">
        <Choice
          label="Time unit"
          value={over}
          options={[
            ['clip', '% of clip'],
            ['seconds', 'seconds'],
            ['beats', 'beats'],
          ]}
          width="124px"
          onChange={(next) => onChange('unit')(inUnit(places, next, sourceSeconds, beatSeconds(timing)))}
        />
        <Choice
          label="Grid"
          value={grid}
          options={GRIDS.map((name) => [name, name === 'free' ? 'no grid' : `grid: ${name}`] as const)}
          width="104px"
          onChange={onGrid}
        />
        <Button {...small} disabled={spacing === 0} onClick={() => onChange('grid')(snapped(drawn, spacing / unit))}>
          quantise to grid
        </Button>
      </Tools>
      <Tools title="transform">
        <Factor
          label="scale time"
          first="1"
          onCommit={(factor) => onChange('time')(scaledInTime(drawn, factor, 0, frame))}
        />
        <Factor
          label="shift time"
          unit={over === 'clip' ? 'of the clip' : over}
          first="0"
          onCommit={(later) => onChange('time')(scaledInTime(drawn, 1, later, frame))}
        />
        <Factor
          label="scale value"
          first="1"
          onCommit={(factor) => onChange('height')(scaledInValue(drawn, factor, 0, frame))}
        />
        <Factor
          label="offset value"
          unit="%"
          first="0"
          onCommit={(higher) => onChange('height')(scaledInValue(drawn, 1, higher / 100, frame))}
        />
      </Tools>
      <Tools title="copies">
        <Button
          {...small}
          onClick={() => {
            dispatch(laneCopied(places));
            tellDone('Copied', 'Open another lane and paste it there.');
          }}
        >
          copy
        </Button>
        <Button {...small} disabled={!copied} onClick={() => copied && onChange('copy')(carried(copied))}>
          paste
        </Button>
        <LaneFiles {...props} />
      </Tools>
    </Flex>
  );
}

function Tools({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Flex role="group" aria-label={title} gap="1.5" wrap="wrap" align="center">
      <Text fontFamily="heading" color="copper" minWidth="44px">
        {title}
      </Text>
      {children}
    </Flex>
  );
}

/** A number that is used once when it is typed, and then stands at rest again. */
function Factor({
  label,
  first,
  unit = '',
  onCommit,
}: {
  label: string;
  first: string;
  unit?: string;
  onCommit: (value: number) => void;
}) {
  return (
    <Flex align="center" gap="1">
      <Text>{label}</Text>
      <TypedValue
        label={`Lane: ${label}`}
        text={first}
        width="46px"
        borderColor="rule"
        onCommit={(text) => onCommit(parseNumber(text.replace(unit, '')))}
      />
      {unit && <Text color="faded">{unit}</Text>}
    </Flex>
  );
}

/** Lanes from MIDI and CSV files, and export CSV. */
function LaneFiles({ lane, drawing, timing, onChange, onValues }: Props) {
  const [offered, setOffered] = useState<readonly MidiLane[]>();
  const fromMidi = (found: MidiLane) => {
    const points = found.points.map((point) => ({
      ...point,
      at: (point.at * timing.meter[1]) / 4,
      value: drawing.stands ? Math.round(point.value) : point.value,
    }));
    onChange(found.name)({ over: 'beats', points });
    setOffered(undefined);
  };
  const take = async (file: File) => {
    try {
      if (/\.midi?$/i.test(file.name)) {
        const found = await readFile('midiLanes', file);
        if (found.length === 1) fromMidi(found[0]);
        else setOffered(found);
        return;
      }
      const lanes = await readFile('csvLanes', file);
      const wanted = lanes.find(({ target }) => target === lane.target) ?? (lanes.length === 1 ? lanes[0] : undefined);
      if (!wanted)
        throw new InputError(
          `${file.name} has lanes of ${lanes.map(({ target }) => target).join(', ')}; none is of ${lane.target}.`,
        );
      onValues(`lane from ${file.name}`, wanted.curve);
    } catch (error) {
      if (!(error instanceof InputError)) throw error;
      tellFailure('Lane not imported', error.message);
    }
  };
  const save = async () => (await import('./saveLane.ts')).saveLane(lane);
  const small = { size: '2xs', variant: 'outline', borderColor: 'rule' } as const;
  const pick = useFilePick('Lane from a file', ['.mid', '.midi', '.csv'], (file) => void take(file));
  return (
    <>
      {pick.input}
      <Button {...small} onClick={pick.open}>
        import MIDI or CSV
      </Button>
      <Button {...small} onClick={() => void save()}>
        export CSV
      </Button>
      {offered && (
        <Box role="group" aria-label="Lanes of the file" display="flex" gap="1" flexWrap="wrap">
          {offered.slice(0, 12).map((found) => (
            <Button key={found.name} {...small} onClick={() => fromMidi(found)}>
              {found.name}
            </Button>
          ))}
        </Box>
      )}
    </>
  );
}
