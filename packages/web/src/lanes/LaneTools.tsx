import { Box, Button, Flex, Text } from '@chakra-ui/react';
import { useState, type ReactNode } from 'react';
import { InputError, beatSeconds, parseNumber, type Timing } from '@hexenkessel/core/model';
import { scaledInTime, scaledInValue, snapped, stampOnto, type Curve } from '@hexenkessel/core/stages';
import type { LaneDocument } from '@hexenkessel/core/chain';
import { lanesToCsv, type MidiLane } from '@hexenkessel/core/formats';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { tellDone, tellFailure } from '../app/toaster.tsx';
import { laneCopied } from '../chain/benchSlice.ts';
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
  readonly stretch: Stretch | undefined;
  readonly grid: Grid;
  readonly onGrid: (grid: Grid) => void;
  /** Takes a lane in places, as a step of that name. */
  readonly onChange: (step: string) => (curve: Curve) => boolean;
  /** The same in the values of the setting; what is out of range is refused. */
  readonly onValues: (step: string, curve: Curve) => boolean;
}

/** What is done to a lane as a whole: shapes, grid, moving and stretching, copies, files. */
export function LaneTools(props: Props) {
  const { lane, places, drawing, timing, sourceSeconds, stretch, grid, onGrid, onChange } = props;
  const dispatch = useAppDispatch();
  const copied = useAppSelector((state) => state.bench.copiedLane);
  const { over } = lane.curve;
  const unit = unitSeconds(over, timing, sourceSeconds);
  const frame = { min: 0, max: 1, length: over === 'clip' ? 1 : Math.max(1, sourceSeconds) / unit };
  const [a, b] = stretch ? [Math.min(...stretch), Math.max(...stretch)] : [0, frame.length];
  const spacing = gridSeconds(grid, timing);
  const carried = (curve: Curve) => inUnit(curve, over, sourceSeconds, beatSeconds(timing));
  const small = { size: '2xs', variant: 'outline', borderColor: 'rule' } as const;
  return (
    <Flex columnGap="5" rowGap="1.5" px="3" py="1.5" wrap="wrap" fontSize="xs" borderTopWidth="1px" borderColor="rule">
      <Tools title="shape">
        <StampRow
          parse={drawing.parse}
          print={drawing.text}
          first={[places.points[0].value, places.points[0].value > 0.5 ? 0 : 1]}
          stretch={[a, b]}
          stretchText={`${placeText(a, over)} – ${placeText(b, over)}`}
          onStamp={(shape, from, to, cycles, seed) =>
            onChange(shape)(stampOnto(places, { shape, from, to, cycles, seed, start: a, end: b }))
          }
        />
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
        <Button {...small} disabled={spacing === 0} onClick={() => onChange('grid')(snapped(places, spacing / unit))}>
          quantise to grid
        </Button>
      </Tools>
      <Tools title="transform">
        <Factor
          label="scale time"
          first="1"
          onCommit={(factor) => onChange('time')(scaledInTime(places, factor, 0, frame))}
        />
        <Factor
          label="shift time"
          unit={over === 'clip' ? 'of the clip' : over}
          first="0"
          onCommit={(later) => onChange('time')(scaledInTime(places, 1, later, frame))}
        />
        <Factor
          label="scale value"
          first="1"
          onCommit={(factor) => onChange('height')(scaledInValue(places, factor, 0, frame))}
        />
        <Factor
          label="offset value"
          unit="%"
          first="0"
          onCommit={(higher) => onChange('height')(scaledInValue(places, 1, higher / 100, frame))}
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
  const save = () => {
    const link = document.createElement('a');
    link.href = URL.createObjectURL(new Blob([lanesToCsv([lane])], { type: 'text/csv' }));
    link.download = `${lane.target}.csv`;
    link.click();
    URL.revokeObjectURL(link.href);
  };
  const small = { size: '2xs', variant: 'outline', borderColor: 'rule' } as const;
  const pick = useFilePick('Lane from a file', '.mid,.midi,.csv', (file) => void take(file));
  return (
    <>
      {pick.input}
      <Button {...small} onClick={pick.open}>
        import MIDI or CSV
      </Button>
      <Button {...small} onClick={save}>
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
