import { Box, Flex, Text } from '@chakra-ui/react';
import { DndContext, KeyboardSensor, PointerSensor, closestCenter, useSensor, useSensors } from '@dnd-kit/core';
import {
  SortableContext,
  arrayMove,
  sortableKeyboardCoordinates,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { CornerDownRight } from 'lucide-react';
import { useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import {
  allStages,
  splitTarget,
  stageTitle,
  type ChainDocument,
  type LaneDocument,
  type StageDocument,
} from '@hexenkessel/core/chain';
import { isMeant, soundFault } from '@hexenkessel/core/engine';
import type { Sound } from '@hexenkessel/core/protocol';
import { useSoundsQuery } from '../api/api.ts';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { markedOn, markedSet } from '../chain/benchSlice.ts';
import { edit } from '../chain/edit.ts';
import { LANE_HEIGHT, LaneRow } from '../lanes/LaneRow.tsx';
import { MovementRows, movementHeight } from '../movement/MovementRows.tsx';
import { boardPlaces, liveStageIds } from '../playback/liveRows.ts';
import { StageMeter } from '../playback/StageMeter.tsx';
import type { Playback } from '../playback/useLive.ts';
import { usePlayPosition } from '../playback/usePlayPosition.ts';
import { BranchRows } from './BranchRows.tsx';
import { CascadeRow, LABEL_WIDTH } from './CascadeRow.tsx';
import { Ruler } from './Ruler.tsx';
import type { RowKey, RowPicture } from './renderReport.ts';
import { costText } from './StageControls.tsx';
import { StageRow } from './StageRow.tsx';
import { toPixel, type TimeScale } from './timeScale.ts';
import type { CascadeState } from './useCascade.ts';
import { useStageActions } from './useStageActions.ts';
import { useCatalogue } from '../chain/useCatalogue.ts';

interface Props {
  readonly sound: Sound;
  readonly document: ChainDocument;
  readonly cascade: CascadeState;
  readonly playback: Playback;
  /** Opens the search for a stage. */
  readonly onAdd: () => void;
  /** Stands under the last stage. */
  readonly children: ReactNode;
}

/** The source at the top and, under it, what each stage makes of it, all on one time ruler. */
export function Cascade({ sound, document, cascade, playback, onAdd, children }: Props) {
  const dispatch = useAppDispatch();
  const { selectedStage, openLanes, movementShown } = useAppSelector((state) => state.bench);
  const catalogue = useCatalogue();
  const { region } = useAppSelector((state) => markedOn(state.bench, sound.id));
  const area = useRef<HTMLDivElement>(null);
  const [{ width, height }, setSize] = useState({ width: 600, height: 500 });
  useEffect(() => {
    if (!area.current) return undefined;
    const observer = new ResizeObserver(([{ contentRect }]) =>
      setSize({ width: Math.max(50, Math.floor(contentRect.width) - LABEL_WIDTH), height: contentRect.height }),
    );
    observer.observe(area.current);
    return () => observer.disconnect();
  }, []);
  // The rows share the height there is, within reason; then they scroll.
  const room = height - RULER_AND_ADD - movementHeight(document, movementShown) - LANE_HEIGHT * openLanes.length;
  const rowHeight = `${Math.max(58, Math.min(120, Math.floor(room / (document.stages.length + 2))))}px`;
  const scale = useTimeScale(cascade, document, width);
  const rate = cascade.sampleRate;
  const sourceEnd = cascade.sourceFrames / rate;
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );

  const move = (from: number, to: number) => {
    if (to < 0 || to >= document.stages.length || from === to) return;
    dispatch(
      edit(`move ${stageTitle(catalogue, document.stages[from])}`, (before) => ({
        ...before,
        stages: arrayMove([...before.stages], from, to),
      })),
    );
  };
  const actions = useStageActions(document);
  const places = boardPlaces(document, playback.playing ?? 'result');
  const live = liveStageIds(document);
  const { data: sounds } = useSoundsQuery();
  // Until the list is there nothing is called missing.
  const faults = new Map(
    sounds
      ? allStages(document.stages).map(({ stage }) => [
          stage.id,
          soundFault(catalogue, stage, (ref) => sounds.some((known) => isMeant(ref, known))),
        ])
      : [],
  );
  const meterOf = (id: string) => {
    const row = cascade.rows[`stage:${id}`];
    const fault = faults.get(id);
    return fault === undefined ? (
      <StageMeter playback={playback} place={places.get(id)} live={live.has(id)} rendering={row ? costText(row) : ''} />
    ) : (
      <Text fontSize="11px" lineHeight="12px" color="alarm" truncate title={fault} data-fault>
        {fault}
      </Text>
    );
  };
  const rowProps = (key: RowKey) => ({
    scale,
    sampleRate: rate,
    row: cascade.rows[key],
    stale: cascade.stale.has(key) || cascade.rows[key] === undefined,
    playing: playback.playing === key,
    onEar: () => playback.toggle(key),
  });
  const ghosts = ghostRows(document, cascade);

  return (
    <Box ref={area} minWidth="0" height="100%" overflowY="auto" overflowX="hidden">
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
          <Text fontSize="xs" color="faded" pb="1">
            bars.beats · seconds
          </Text>
        </Flex>
        <Box flex="1" minWidth="0">
          <Ruler
            scale={scale}
            timing={document.timing}
            region={region}
            onRegion={(next) => dispatch(markedSet({ soundId: sound.id, region: next }))}
            onPlace={playback.playFrom}
          />
        </Box>
      </Flex>
      <Box position="relative">
        <Shading scale={scale} sourceEnd={sourceEnd} />
        <Box height={rowHeight}>
          <CascadeRow {...rowProps('source')} title={sound.name} />
        </Box>
        <MovementRows
          document={document}
          scale={scale}
          sourceSeconds={sourceEnd}
          backdrop={cascade.rows.source}
          sampleRate={rate}
        />
        <DndContext
          sensors={sensors}
          collisionDetection={closestCenter}
          onDragEnd={({ active, over }) => {
            const place = (id: unknown) => document.stages.findIndex((stage) => stage.id === id);
            if (over) move(place(active.id), place(over.id));
          }}
        >
          <SortableContext items={document.stages.map(({ id }) => id)} strategy={verticalListSortingStrategy}>
            {document.stages.map((stage, index) => {
              const key: RowKey = `stage:${stage.id}`;
              const { row, ...rest } = rowProps(key);
              // What is heard after a stage that is off is what goes into it.
              const heard = heardKey(document, index);
              return (
                <StageRow
                  key={stage.id}
                  {...rest}
                  playing={stage.on && playback.playing === key}
                  onEar={() => playback.toggle(heard)}
                  row={stage.on ? row : ghosts[index]}
                  stale={stage.on && rest.stale}
                  ghost={ghosts[index]}
                  height={rowHeight}
                  stage={stage}
                  index={index}
                  selected={stage.id === selectedStage}
                  meter={meterOf(stage.id)}
                  actions={actions}
                >
                  {lanesIn(document, stage)
                    .filter(({ target }) => openLanes.includes(target))
                    .map((lane) => (
                      <LaneRow
                        key={lane.target}
                        lane={lane}
                        document={document}
                        scale={scale}
                        sourceSeconds={sourceEnd}
                        backdrop={ghosts[index]}
                        sampleRate={rate}
                      />
                    ))}
                  {stage.branches && (
                    <BranchRows
                      document={document}
                      holder={stage}
                      number={String(index + 1)}
                      depth={1}
                      scale={scale}
                      sampleRate={rate}
                      pictures={cascade.rows}
                      stale={cascade.stale}
                      ghost={ghosts[index]}
                      actions={actions}
                      meterOf={meterOf}
                      onAdd={onAdd}
                    />
                  )}
                </StageRow>
              );
            })}
          </SortableContext>
        </DndContext>
        {children}
        <Box height={rowHeight}>
          <CascadeRow
            {...rowProps('result')}
            title="Render"
            lead={<CornerDownRight size={16} aria-hidden />}
            detail={placeText(cascade, document)}
          />
        </Box>
        <PlayLine scale={scale} playback={playback} />
      </Box>
    </Box>
  );
}

/** The lanes of a stage, its branches and the stages in them. */
function lanesIn({ lanes }: ChainDocument, stage: StageDocument): LaneDocument[] {
  const ids = new Set(
    allStages([stage]).flatMap((placed) => [placed.stage.id, ...(placed.stage.branches ?? []).map(({ id }) => id)]),
  );
  return lanes.filter(({ target }) => ids.has(splitTarget(target).id));
}

/** For each stage, the row of the sound that goes into it. */
function ghostRows(document: ChainDocument, cascade: CascadeState): (RowPicture | undefined)[] {
  let before = cascade.rows.source;
  return document.stages.map((stage) => {
    const ghost = before;
    if (stage.on) before = cascade.rows[`stage:${stage.id}`] ?? before;
    return ghost;
  });
}

/** The row that shows the sound after the stage at `index`. */
function heardKey(document: ChainDocument, index: number): RowKey {
  const last = document.stages.slice(0, index + 1).findLast(({ on }) => on);
  return last ? `stage:${last.id}` : 'source';
}

function placeText(cascade: CascadeState, document: ChainDocument): string {
  const anchors = { source: 'natural', start: 'start at onset', end: 'end at onset' };
  return cascade.rows.result ? anchors[document.render.anchor] : '';
}

/** Heights of the ruler and of the line for a new stage. */
const RULER_AND_ADD = 80;

const MARGIN = 0.02;

/** Shows all rows that belong to the chain as it is, with a little room on both sides. */
function useTimeScale(cascade: CascadeState, document: ChainDocument, width: number): TimeScale {
  return useMemo(() => {
    const keys: RowKey[] = [
      'source',
      'result',
      ...document.stages.filter(({ on }) => on).map(({ id }): RowKey => `stage:${id}`),
    ];
    const shown = keys.flatMap((key) => cascade.rows[key] ?? []);
    const start = Math.min(0, ...shown.map((row) => row.start / cascade.sampleRate));
    const end = Math.max(
      cascade.sourceFrames / cascade.sampleRate,
      ...shown.map((row) => row.end / cascade.sampleRate),
      start + 0.001,
    );
    const room = MARGIN * (end - start);
    return { start: start - room, end: end + room, width };
  }, [cascade.rows, cascade.sampleRate, cascade.sourceFrames, document.stages, width]);
}

/** What lies before the source is tinted, the tail is shaded, the source's first frame is a line. */
function Shading({ scale, sourceEnd }: { scale: TimeScale; sourceEnd: number }) {
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
        bg="verdigris"
        opacity="0.1"
        style={{ width: Math.max(0, zero) }}
      />
      <Box
        position="absolute"
        top="0"
        bottom="0"
        right="0"
        opacity="0.9"
        backgroundImage="repeating-linear-gradient(135deg, var(--chakra-colors-shade) 0 5px, transparent 5px 9px)"
        style={{ left: end }}
      />
      <Box position="absolute" top="0" bottom="0" width="1.5px" bg="copper" style={{ left: zero }} />
    </Box>
  );
}

/** Where it plays, across all rows. Moved outside React, sixty times a second. */
function PlayLine({ scale, playback }: { scale: TimeScale; playback: Playback }) {
  const line = useRef<HTMLDivElement>(null);
  usePlayPosition(playback, (seconds) => {
    const place = LABEL_WIDTH + Math.max(0, Math.min(scale.width, toPixel(scale, seconds)));
    if (line.current) line.current.style.transform = `translateX(${place}px)`;
  });
  if (!playback.playing) return null;
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
    />
  );
}
