import { Box, Flex, Text } from '@chakra-ui/react';
import { ChevronDown, ChevronRight } from 'lucide-react';
import { Fragment, useMemo } from 'react';
import { modulatorTitle, splitTarget, type ChainDocument, type ModulatorDocument } from '@hexenkessel/core/chain';
import { modulatorDefinition } from '@hexenkessel/core/engine';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { LABEL_WIDTH } from '../cascade/CascadeRow.tsx';
import { useScale } from '../cascade/scaleContext.ts';
import { toPixel } from '../cascade/timeScale.ts';
import { useShown } from '../chain/shownChain.ts';
import { movementSwitched } from '../chain/viewSlice.ts';
import { LaneRow } from '../lanes/LaneRow.tsx';
import { IconAction } from '../parts/IconAction.tsx';
import { tracePath } from './traceReading.ts';
import { useTrace } from './traceContext.ts';

const HEIGHT = 34;
const HEAD = 24;

/** Pixels that the rows of a chain's modulators take. */
export function movementHeight({ modulators }: ChainDocument, shown: boolean): number {
  if (modulators.length === 0) return 0;
  return HEAD + (shown ? modulators.length * HEIGHT : 0);
}

/** How the modulators run, on the ruler that all rows share. */
export function MovementRows() {
  const dispatch = useAppDispatch();
  const shown = useAppSelector((state) => state.view.movementShown);
  const openLanes = useAppSelector((state) => state.view.openLanes);
  const modulators = useShown((chain) => chain.modulators);
  const lanes = useShown((chain) => chain.lanes);
  if (modulators.length === 0) return null;
  return (
    <Box borderBottomWidth="1px" borderColor="rule" data-testid="movement-rows">
      <Flex
        height={`${HEAD}px`}
        align="center"
        width={`${LABEL_WIDTH}px`}
        borderRightWidth="1px"
        borderColor="rule"
        px="2"
      >
        <IconAction
          label={shown ? 'Collapse the modulation' : 'Expand the modulation'}
          aria-expanded={shown}
          minWidth="24px"
          height="22px"
          onClick={() => dispatch(movementSwitched())}
        >
          {shown ? <ChevronDown size={13} /> : <ChevronRight size={13} />}
        </IconAction>
        <Text fontSize="xs" color="faded">
          modulation
        </Text>
      </Flex>
      {shown &&
        modulators.map((modulator) => (
          <Fragment key={modulator.id}>
            <TraceRow modulator={modulator} />
            {lanes
              .filter(({ target }) => splitTarget(target).id === modulator.id && openLanes.includes(target))
              .map((lane) => (
                <LaneRow key={lane.target} lane={lane} />
              ))}
          </Fragment>
        ))}
    </Box>
  );
}

function TraceRow({ modulator }: { readonly modulator: ModulatorDocument }) {
  const scale = useScale();
  const trace = useTrace();
  const values = trace?.modulators[modulator.id];
  const both = modulatorDefinition(modulator.kind).polarity === 'both';
  const left = trace ? toPixel(scale, trace.origin / trace.sampleRate) : 0;
  const right = trace && values ? toPixel(scale, (trace.origin + values.length * trace.step) / trace.sampleRate) : 0;
  const path = useMemo(
    () => (values ? tracePath(values, Math.max(1, right - left), HEIGHT, both) : ''),
    [values, left, right, both],
  );
  const title = modulatorTitle(modulator);
  return (
    <Flex height={`${HEIGHT}px`} borderTopWidth="1px" borderColor="rule" opacity={modulator.on ? 1 : 0.4}>
      <Flex width={`${LABEL_WIDTH}px`} flexShrink={0} align="center" pl="9" borderRightWidth="1px" borderColor="rule">
        <Text fontSize="sm" truncate>
          {title}
        </Text>
      </Flex>
      <Box flex="1" minWidth="0" overflow="hidden">
        <svg width="100%" height={HEIGHT} role="img" aria-label={`${title} over the sound`}>
          <line
            x1="0"
            x2="100%"
            y1={both ? HEIGHT / 2 : HEIGHT - 2}
            y2={both ? HEIGHT / 2 : HEIGHT - 2}
            stroke="var(--chakra-colors-rule)"
            strokeDasharray="2 3"
          />
          <path
            d={path}
            transform={`translate(${left} 0)`}
            fill="none"
            stroke="var(--chakra-colors-verdigris)"
            strokeWidth="1.4"
          />
        </svg>
      </Box>
    </Flex>
  );
}
