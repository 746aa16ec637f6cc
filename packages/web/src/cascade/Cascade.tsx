import { Box, Flex, Text } from '@chakra-ui/react';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { DndContext, KeyboardSensor, PointerSensor, closestCenter, useSensor, useSensors } from '@dnd-kit/core';
import { SortableContext, sortableKeyboardCoordinates, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { CornerDownRight } from 'lucide-react';
import { useMemo, useRef, useState, type ReactNode, type RefObject } from 'react';
import { shallowEqual } from 'react-redux';
import { edits } from '@hexenkessel/core/chain';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { edit } from '../chain/edit.ts';
import { mark, markedOn } from '../chain/playbackSlice.ts';
import { useShown, useShownSound } from '../chain/shownChain.ts';
import { LANE_HEIGHT } from '../lanes/LaneRow.tsx';
import { MovementRows, movementHeight } from '../movement/MovementRows.tsx';
import { usePlayback, usePlayingRow } from '../playback/usePlayback.ts';
import { usePlayPosition } from '../playback/usePlayPosition.ts';
import { CascadeRow, LABEL_WIDTH } from './CascadeRow.tsx';
import { Ruler } from './Ruler.tsx';
import { ScaleContext, useScale } from './scaleContext.ts';
import { StageRow } from './StageRow.tsx';
import { toPixel } from './timeScale.ts';
import { useRendered } from './useRenderer.ts';
import { useOnsets, useRestAtZero } from './useSnapping.ts';
import { useStageActions } from './useStageActions.ts';
import { useRowArea, useTimeScale, useZoom } from './useTimeScale.ts';
import { ZoomBar, ZoomButtons, useWheelZoom } from './ZoomControls.tsx';

/** The source at the top and, under it, what each stage makes of it, all on one time ruler. */
export function Cascade({ children }: { readonly children: ReactNode }) {
  const sound = useShownSound();
  const area = useRef<HTMLDivElement>(null);
  const { width, height } = useRowArea(area);
  const scale = useTimeScale(width);
  const ids = useShown((chain) => chain.stages.map(({ id }) => id), shallowEqual);
  const openLanes = useAppSelector((state) => state.view.openLanes.length);
  const movementShown = useAppSelector((state) => state.view.movementShown);
  const movement = useShown((chain) => movementHeight(chain, movementShown));
  // The rows share the height there is, within reason; then they scroll.
  const room = height - RULER_AND_ADD - movement - LANE_HEIGHT * openLanes;
  const rowHeight = `${Math.max(58, Math.min(120, Math.floor(room / (ids.length + 2))))}px`;
  const actions = useStageActions();
  return (
    <ScaleContext value={scale}>
      <Box ref={area} id="cascade" minWidth="0" height="100%" overflowY="auto" overflowX="hidden">
        <TopRow area={area} />
        <Box position="relative">
          <Shading />
          <Box height={rowHeight}>
            <WholeRow row="source" title={sound.name} />
          </Box>
          <MovementRows />
          <Sorting ids={ids}>
            {ids.map((id, index) => (
              <StageRow
                key={id}
                id={id}
                index={index}
                last={index === ids.length - 1}
                height={rowHeight}
                actions={actions}
              />
            ))}
          </Sorting>
          {children}
          <Box height={rowHeight}>
            <WholeRow row="result" title="Render" />
          </Box>
          <PlayLine />
        </Box>
      </Box>
    </ScaleContext>
  );
}

/** Heights of the ruler and of the line for a new stage. */
const RULER_AND_ADD = 80;

/** The ruler, which stays while the rows scroll. */
function TopRow({ area }: { readonly area: RefObject<HTMLDivElement | null> }) {
  useWheelZoom(area);
  const dispatch = useAppDispatch();
  const sound = useShownSound();
  const playback = usePlayback();
  const timing = useShown((chain) => chain.timing);
  const { region } = useAppSelector((state) => markedOn(state, sound.id));
  const [pointed, setPointed] = useState(false);
  const onsets = useOnsets(pointed);
  const restAtZero = useRestAtZero(onsets);
  return (
    <Flex position="sticky" top="0" zIndex="3" bg="paper">
      <Flex
        width={`${LABEL_WIDTH}px`}
        flexShrink={0}
        align="end"
        px="2"
        borderRightWidth="1px"
        borderBottomWidth="1px"
        borderColor="rule"
      >
        <Text fontSize="xs" color="faded" pb="1" flex="1" whiteSpace="nowrap">
          bars.beats · seconds
        </Text>
        <ZoomButtons />
      </Flex>
      <Box flex="1" minWidth="0" position="relative" onPointerEnter={() => setPointed(true)}>
        <Ruler
          scale={useScale()}
          timing={timing}
          region={region}
          onRegion={(next) => dispatch(mark(sound.id, { region: next }))}
          onsets={onsets}
          onRested={restAtZero}
          onPlace={(seconds) => playback.playFrom(seconds)}
        />
        <ZoomBar />
      </Box>
    </Flex>
  );
}

/** Stages are dragged by their handles to another place. */
function Sorting({ ids, children }: { readonly ids: string[]; readonly children: ReactNode }) {
  const dispatch = useAppDispatch();
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={({ active, over }) => {
        const [from, to] = [active.id, over?.id].map((id) => ids.indexOf(String(id)));
        if (from < 0 || to < 0 || from === to) return;
        dispatch(edit(edits.reorderStages(BUILT_INS, from, to)));
      }}
    >
      <SortableContext items={ids} strategy={verticalListSortingStrategy}>
        {children}
      </SortableContext>
    </DndContext>
  );
}

/** The row of the source, or of the finished render. */
function WholeRow({ row, title }: { readonly row: 'source' | 'result'; readonly title: string }) {
  const playback = usePlayback();
  const there = useRendered(({ rows }) => rows[row] !== undefined);
  const anchor = useShown((chain) => chain.render.anchor);
  const playing = usePlayingRow() === row;
  return (
    <CascadeRow
      title={title}
      rowKey={row}
      playing={playing}
      onEar={() => playback.toggle(row)}
      lead={useMemo(() => (row === 'result' ? <CornerDownRight size={16} aria-hidden /> : undefined), [row])}
      detail={row === 'result' && there ? ANCHORS[anchor] : undefined}
    />
  );
}

const ANCHORS = { source: 'natural', start: 'start at onset', end: 'end at onset' };

/** What lies before the source is tinted, the tail is shaded, the source's first frame is a line; by transforms, which shift nothing. */
function Shading() {
  const scale = useScale();
  const sourceEnd = useRendered(({ sourceFrames, sampleRate }) => sourceFrames / sampleRate);
  const zero = toPixel(scale, 0);
  const end = toPixel(scale, sourceEnd);
  return (
    <Box
      position="absolute"
      top="0"
      bottom="0"
      left={`${LABEL_WIDTH}px`}
      right="0"
      pointerEvents="none"
      overflow="hidden"
    >
      <Box
        position="absolute"
        top="0"
        bottom="0"
        left="0"
        width="100%"
        transformOrigin="left"
        bg="verdigris"
        opacity="0.1"
        style={{ transform: `scaleX(${Math.max(0, zero) / scale.width})` }}
      />
      <Box
        position="absolute"
        top="0"
        bottom="0"
        left="0"
        width="100%"
        opacity="0.9"
        backgroundImage="repeating-linear-gradient(135deg, var(--chakra-colors-shade) 0 5px, transparent 5px 9px)"
        style={{ transform: `translateX(${Math.max(-20, end)}px)` }}
      />
      <Box
        position="absolute"
        top="0"
        bottom="0"
        left="0"
        width="1.5px"
        bg="copper"
        style={{ transform: `translateX(${zero}px)` }}
      />
    </Box>
  );
}

const HIDDEN = { visibility: 'hidden' } as const;

/** Where it plays, across all rows. Moved outside React, sixty times a second. */
function PlayLine() {
  const scale = useScale();
  const line = useRef<HTMLDivElement>(null);
  const playing = usePlayingRow() !== undefined;
  const { zoomed, panBy } = useZoom();
  const inside = useRef(false);
  usePlayPosition((seconds) => {
    const pixel = toPixel(scale, seconds);
    // What is zoomed goes along with what plays, when that leaves it.
    if (zoomed && inside.current && pixel > scale.width) panBy(0.9);
    inside.current = pixel >= 0 && pixel <= scale.width;
    if (!line.current) return;
    line.current.style.transform = `translateX(${LABEL_WIDTH + Math.max(0, Math.min(scale.width, pixel))}px)`;
    line.current.style.visibility = inside.current ? 'visible' : 'hidden';
  });
  if (!playing) return null;
  return (
    <Box
      ref={line}
      position="absolute"
      top="-38px"
      bottom="0"
      left="0"
      width="2px"
      bg="verdigris"
      pointerEvents="none"
      data-testid="play-line"
      // Until it is known where.
      style={HIDDEN}
    />
  );
}
