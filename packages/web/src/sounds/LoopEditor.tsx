import { Box, Button, Grid, HStack, Stack, Text } from '@chakra-ui/react';
import { Play, Square, Trash2 } from 'lucide-react';
import { useEffect, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import {
  InputError,
  nearestZero,
  overviewOf,
  parseNumber,
  seamDifference,
  showSeconds,
  type Clip,
  type SoundLoop,
  type SoundMarks,
} from '@hexenkessel/core';
import { Waveform } from '../cascade/Waveform.tsx';
import { toPixel, toSeconds, type TimeScale } from '../cascade/timeScale.ts';
import { TypedValue } from '../parameters/TypedValue.tsx';
import { IconAction } from '../parts/IconAction.tsx';
import { LoopPlayer } from './loopPlayer.ts';
import { SeamView } from './SeamView.tsx';

const COLOURS = { sustain: 'verdigris', release: 'copper' } as const;
const KINDS = ['sustain', 'release'] as const;
/** Milliseconds within which an edge is drawn to a zero. */
const SNAP = 0.012;

interface Props {
  readonly clip: Clip;
  readonly marks: SoundMarks;
  readonly onChange: (marks: SoundMarks) => void;
}

/** The waveform with its sustain and release loops, to be dragged, and what their seams look and sound like. */
export function LoopEditor({ clip, marks, onChange }: Props) {
  const frames = clip.channels[0].length;
  const area = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(800);
  const [view, setView] = useState<readonly [number, number]>([0, frames]);
  useEffect(() => setView([0, frames]), [frames]);
  useEffect(() => {
    if (!area.current) return undefined;
    const watch = new ResizeObserver(([entry]) => setWidth(Math.max(50, entry.contentRect.width)));
    watch.observe(area.current);
    return () => watch.disconnect();
  }, []);
  const scale: TimeScale = { start: view[0] / clip.sampleRate, end: view[1] / clip.sampleRate, width };
  const row = useMemo(() => {
    const overview = overviewOf(clip, view[0], view[1], Math.max(1, Math.min(2400, view[1] - view[0])));
    return {
      key: 'source' as const,
      start: view[0],
      end: view[1],
      channels: 1,
      peak: 0,
      overview,
      cost: 0,
      sharedBy: 1,
      clipId: 0,
    };
  }, [clip, view]);
  const setLoop = (kind: SoundLoop['kind'], loop: SoundLoop | undefined) =>
    onChange({ ...marks, loops: [...marks.loops.filter((other) => other.kind !== kind), ...(loop ? [loop] : [])] });
  const frameAt = (event: PointerEvent<HTMLElement>) => {
    const box = area.current!.getBoundingClientRect();
    return Math.round(toSeconds(scale, event.clientX - box.left) * clip.sampleRate);
  };
  const snapped = (frame: number, free: boolean) => {
    const bounded = Math.max(0, Math.min(frames, frame));
    return free ? bounded : nearestZero(clip, bounded, Math.round(SNAP * clip.sampleRate));
  };
  const zoom = (factor: number) => {
    const middle = (view[0] + view[1]) / 2;
    const half = Math.max(64, Math.min(frames / 2, ((view[1] - view[0]) / 2) * factor));
    const start = Math.max(0, Math.min(frames - 2 * half, middle - half));
    setView([Math.round(start), Math.round(start + 2 * half)]);
  };
  return (
    <Stack gap="2">
      <HStack justify="space-between">
        <Audition clip={clip} marks={marks} />
        <HStack gap="1">
          <Button size="2xs" variant="outline" borderColor="rule" onClick={() => zoom(0.5)}>
            closer
          </Button>
          <Button size="2xs" variant="outline" borderColor="rule" onClick={() => zoom(2)}>
            wider
          </Button>
          {marks.loops.map(({ kind, start, end }) => (
            <Button
              key={kind}
              size="2xs"
              variant="outline"
              borderColor="rule"
              onClick={() => {
                const room = Math.max(64, Math.round(0.15 * (end - start)));
                setView([Math.max(0, start - room), Math.min(frames, end + room)]);
              }}
            >
              show {kind}
            </Button>
          ))}
          <Button size="2xs" variant="outline" borderColor="rule" onClick={() => setView([0, frames])}>
            all
          </Button>
        </HStack>
      </HStack>
      <Box
        ref={area}
        position="relative"
        height="190px"
        borderWidth="1px"
        borderColor="rule"
        bg="sheet"
        overflow="hidden"
        data-testid="loop-editor"
      >
        <Waveform
          scale={scale}
          sampleRate={clip.sampleRate}
          row={row}
          ghost={undefined}
          label="Waveform of the sound"
        />
        {marks.loops.map((loop) => (
          <LoopSpan
            key={loop.kind}
            loop={loop}
            left={toPixel(scale, loop.start / clip.sampleRate)}
            right={toPixel(scale, loop.end / clip.sampleRate)}
            onEdge={(edge, frame, free) => {
              const at = snapped(frame, free);
              const next = { ...loop, [edge]: at };
              if (next.end > next.start) setLoop(loop.kind, next);
            }}
            frameAt={frameAt}
          />
        ))}
        <HStack position="absolute" bottom="0" left="1" right="1" justify="space-between" pointerEvents="none">
          <Text fontSize="xs" fontFamily="mono" color="faded">
            {showSeconds(scale.start)}
          </Text>
          <Text fontSize="xs" fontFamily="mono" color="faded">
            {showSeconds(scale.end)}
          </Text>
        </HStack>
      </Box>
      <Text fontSize="xs" color="faded">
        Drag the edges of a loop: they snap to where the sound rises through zero (with Shift they go free). Arrow keys
        move a focused edge by a frame, with Shift by 100.
      </Text>
      <Grid templateColumns="1fr 1fr" gap="4">
        {KINDS.map((kind) => (
          <LoopRow
            key={kind}
            kind={kind}
            clip={clip}
            loop={marks.loops.find((loop) => loop.kind === kind)}
            onChange={(loop) => setLoop(kind, loop)}
            snapped={snapped}
          />
        ))}
      </Grid>
    </Stack>
  );
}

function Audition({ clip, marks }: { readonly clip: Clip; readonly marks: SoundMarks }) {
  const [state, setState] = useState<'idle' | 'held' | 'released'>('idle');
  const player = useRef<LoopPlayer>(undefined);
  useEffect(() => () => player.current?.close(), []);
  const play = () => {
    player.current ??= new LoopPlayer();
    player.current.hold(clip, marks.loops, () => setState('idle'));
    setState('held');
  };
  const stop = () => {
    player.current?.stop();
    setState('idle');
  };
  return (
    <HStack gap="2">
      <Button size="xs" variant="outline" borderColor="rule" onClick={state === 'idle' ? play : stop}>
        {state === 'idle' ? <Play size={14} /> : <Square size={14} />}
        {state === 'idle' ? 'Hold the note' : 'Stop'}
      </Button>
      <Button
        size="xs"
        variant="outline"
        borderColor="rule"
        disabled={state !== 'held'}
        onClick={() => {
          player.current?.release(clip, marks.loops);
          setState('released');
        }}
      >
        Let go
      </Button>
      <Text fontSize="xs" color="faded" aria-live="polite">
        {state === 'held' &&
          (marks.loops.some(({ kind }) => kind === 'sustain') ? 'goes round the sustain loop' : 'plays')}
        {state === 'released' &&
          (marks.loops.some(({ kind }) => kind === 'release') ? 'goes on into the release loop' : 'plays to its end')}
      </Text>
    </HStack>
  );
}

interface SpanProps {
  readonly loop: SoundLoop;
  readonly left: number;
  readonly right: number;
  readonly frameAt: (event: PointerEvent<HTMLElement>) => number;
  readonly onEdge: (edge: 'start' | 'end', frame: number, free: boolean) => void;
}

function LoopSpan({ loop, left, right, frameAt, onEdge }: SpanProps) {
  const colour = COLOURS[loop.kind];
  const edge = (which: 'start' | 'end', x: number) => (
    <Box
      role="slider"
      tabIndex={0}
      aria-label={`${loop.kind} loop, ${which}`}
      aria-valuenow={loop[which]}
      aria-valuetext={`frame ${loop[which]}`}
      position="absolute"
      top="0"
      bottom="0"
      width="24px"
      ml="-12px"
      cursor="ew-resize"
      style={{ left: x, touchAction: 'none' }}
      onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
      onPointerMove={(event) => {
        if (event.currentTarget.hasPointerCapture(event.pointerId)) onEdge(which, frameAt(event), event.shiftKey);
      }}
      onKeyDown={(event: KeyboardEvent) => {
        const way = event.key === 'ArrowLeft' ? -1 : event.key === 'ArrowRight' ? 1 : 0;
        if (way === 0) return;
        event.preventDefault();
        onEdge(which, loop[which] + way * (event.shiftKey ? 100 : 1), true);
      }}
    >
      <Box position="absolute" left="11px" top="0" bottom="0" width="2px" bg={colour} />
      <Text
        position="absolute"
        top={loop.kind === 'sustain' ? '0' : '16px'}
        left={which === 'start' ? '14px' : undefined}
        right={which === 'end' ? '14px' : undefined}
        fontSize="xs"
        color={colour}
        whiteSpace="nowrap"
        userSelect="none"
      >
        {which === 'start' ? `${loop.kind} ▸` : '◂'}
      </Text>
    </Box>
  );
  return (
    <>
      <Box
        position="absolute"
        top="0"
        bottom="0"
        bg={colour}
        opacity="0.13"
        pointerEvents="none"
        style={{ left, width: Math.max(0, right - left) }}
      />
      {edge('start', left)}
      {edge('end', right)}
    </>
  );
}

interface RowProps {
  readonly kind: SoundLoop['kind'];
  readonly clip: Clip;
  readonly loop: SoundLoop | undefined;
  readonly onChange: (loop: SoundLoop | undefined) => void;
  readonly snapped: (frame: number, free: boolean) => number;
}

function LoopRow({ kind, clip, loop, onChange, snapped }: RowProps) {
  const frames = clip.channels[0].length;
  if (!loop) {
    const [from, to] = kind === 'sustain' ? [0.3, 0.6] : [0.7, 0.9];
    return (
      <Box>
        <Button
          size="xs"
          variant="outline"
          borderColor="rule"
          onClick={() =>
            onChange({
              kind,
              start: snapped(Math.round(from * frames), false),
              end: snapped(Math.round(to * frames), false),
              times: 0,
            })
          }
        >
          Place a {kind} loop
        </Button>
        <Text fontSize="xs" color="faded" mt="1">
          {kind === 'sustain' ? 'Goes round as long as a note is held.' : 'Goes round once it is let go.'}
        </Text>
      </Box>
    );
  }
  const frame = (text: string, low: number, high: number) => {
    const value = parseNumber(text);
    if (!Number.isInteger(value) || value < low || value > high)
      throw new InputError(`${text} is not allowed; write a whole number from ${low} to ${high}.`);
    return value;
  };
  const seam = seamDifference(clip, loop.start, loop.end);
  return (
    <Box borderTopWidth="2px" borderColor={COLOURS[kind]} pt="1">
      <HStack justify="space-between">
        <Text fontWeight="600">{kind} loop</Text>
        <IconAction label={`Remove the ${kind} loop`} size="2xs" onClick={() => onChange(undefined)}>
          <Trash2 size={14} />
        </IconAction>
      </HStack>
      <Grid templateColumns="44px 1fr 60px" fontSize="sm" alignItems="center">
        <Text>start</Text>
        <TypedValue
          label={`Start of the ${kind} loop in frames`}
          text={String(loop.start)}
          onCommit={(text) => onChange({ ...loop, start: frame(text, 0, loop.end - 1) })}
        />
        <Text fontSize="xs" color="faded" fontFamily="mono">
          {showSeconds(loop.start / clip.sampleRate)}
        </Text>
        <Text>end</Text>
        <TypedValue
          label={`End of the ${kind} loop in frames`}
          text={String(loop.end)}
          onCommit={(text) => onChange({ ...loop, end: frame(text, loop.start + 1, frames) })}
        />
        <Text fontSize="xs" color="faded" fontFamily="mono">
          {showSeconds(loop.end / clip.sampleRate)}
        </Text>
        <Text>times</Text>
        <TypedValue
          label={`How often the ${kind} loop goes round`}
          text={loop.times === 0 ? 'for ever' : String(loop.times)}
          onCommit={(text) => onChange({ ...loop, times: /ever|∞/.test(text) ? 0 : frame(text, 0, 10_000) })}
        />
        <span />
      </Grid>
      <SeamView clip={clip} loop={loop} />
      <Text fontSize="xs" color={seam > 0.3 ? 'alarm' : 'faded'}>
        {seam > 0.3 ? 'The seam will be heard' : 'The seam fits'}: {Math.round(100 * Math.min(2, seam))} % of what
        sounds there differs.
      </Text>
    </Box>
  );
}
