import { Flex, HStack, Text, chakra } from '@chakra-ui/react';
import { Waves } from 'lucide-react';
import { memo, useRef } from 'react';
import { modulatorTitle, type ModulatorDocument } from '@hexenkessel/core/chain';
import { modulatorDefinition } from '@hexenkessel/core/engine';
import { Tip } from '../parts/Tip.tsx';
import { usePlayPosition } from '../playback/usePlayPosition.ts';
import { useTrace } from '../movement/traceContext.ts';
import { useAppDispatch } from '../app/store.ts';
import { useShown } from '../chain/shownChain.ts';
import { tabShown } from '../chain/viewSlice.ts';
import { tracedAt } from '../movement/traceReading.ts';
import { ControlRow } from './ControlRow.tsx';
import { PinPlace, usePinning } from './PinDrag.tsx';

/** Below the Cascade: the panel to play the chain with, and what moves by itself. */
export const PanelStrip = memo(function PanelStrip() {
  const dispatch = useAppDispatch();
  const panel = useShown((chain) => chain.panel);
  const modulators = useShown((chain) => chain.modulators);
  const onPanel = () => dispatch(tabShown('panel'));
  const onMovement = () => dispatch(tabShown('movement'));
  const pinning = usePinning();
  if (panel.length === 0 && modulators.length === 0 && !pinning) return null;
  return (
    <Flex
      align="stretch"
      px="3"
      py="1"
      gap="4"
      borderTopWidth="1px"
      borderColor="ink"
      bg="sheet"
      minHeight="58px"
      data-testid="panel-strip"
    >
      <StripTitle text="panel" tip="Opens the panel, to make controls and change them" onClick={onPanel} />
      <Flex gap="4" overflowX="auto" flex="1" minWidth="0" align="center">
        {panel.map((control) => (
          <PinPlace key={control.id} control={control.id}>
            <ControlRow control={control} narrow />
          </PinPlace>
        ))}
        {pinning ? (
          <PinPlace>
            <Text fontSize="sm" color="copper" px="3" py="2">
              Drop here for a new control
            </Text>
          </PinPlace>
        ) : (
          panel.length === 0 && (
            <Text fontSize="sm" color="faded">
              No control yet: drag a parameter here by its name, or press P on its row.
            </Text>
          )
        )}
      </Flex>
      {modulators.length > 0 && (
        <>
          <StripTitle text="modulation" tip="Opens the modulators and their routes" onClick={onMovement} />
          <HStack gap="2" maxWidth="420px" overflowX="auto">
            {modulators.map((modulator) => (
              <Chip key={modulator.id} modulator={modulator} onClick={onMovement} />
            ))}
          </HStack>
        </>
      )}
    </Flex>
  );
});

function StripTitle({ text, tip, onClick }: { text: string; tip: string; onClick: () => void }) {
  return (
    <Tip text={tip}>
      <chakra.button type="button" onClick={onClick} fontFamily="heading" fontSize="sm" color="copper" minWidth="44px">
        {text}
      </chakra.button>
    </Tip>
  );
}

/** A modulator with its height while it plays. */
function Chip({ modulator, onClick }: { readonly modulator: ModulatorDocument; readonly onClick: () => void }) {
  const title = modulatorTitle(modulator);
  return (
    <Tip text={`${title}${modulator.on ? '' : ', off'}: opens it`}>
      <chakra.button
        type="button"
        onClick={onClick}
        display="flex"
        alignItems="center"
        gap="1.5"
        px="2"
        height="28px"
        borderWidth="1px"
        borderColor="rule"
        opacity={modulator.on ? 1 : 0.5}
        whiteSpace="nowrap"
        fontSize="sm"
      >
        <Waves size={13} aria-hidden /> {title}
        <Height modulator={modulator} />
      </chakra.button>
    </Tip>
  );
}

function Height({ modulator }: { readonly modulator: ModulatorDocument }) {
  const trace = useTrace();
  const bar = useRef<HTMLSpanElement>(null);
  const both = modulatorDefinition(modulator.kind).polarity === 'both';
  usePlayPosition((seconds) => {
    const value = trace && tracedAt(trace, trace.modulators[modulator.id], seconds);
    if (bar.current && value !== undefined)
      bar.current.style.transform = `scaleY(${Math.max(0.02, both ? (value + 1) / 2 : value)})`;
  });
  return (
    <chakra.span width="4px" height="20px" bg="shade" display="inline-flex" alignItems="end">
      <chakra.span
        ref={bar}
        width="4px"
        height="20px"
        bg="verdigris"
        transformOrigin="bottom"
        transform="scaleY(0.02)"
      />
    </chakra.span>
  );
}
