import { Box, Button, Grid, HStack, Stack, Text } from '@chakra-ui/react';
import { useEffect, useMemo, useRef, useState, type PointerEvent } from 'react';
import { showSeconds, type Clip } from '@hexenkessel/core/model';
import { nearestZero, overviewOf } from '@hexenkessel/core/analysis';
import type { SoundLoop, SoundMarks } from '@hexenkessel/core/formats';
import { Waveform } from '../cascade/Waveform.tsx';
import { toPixel, toSeconds, type TimeScale } from '../cascade/timeScale.ts';
import { Audition } from './Audition.tsx';
import { LoopRow } from './LoopRow.tsx';
import { LoopSpan } from './LoopSpan.tsx';

const KINDS = ['sustain', 'release'] as const;
/** Milliseconds within which an edge is drawn to a zero. */
const SNAP = 0.012;

interface Props {
  readonly clip: Clip;
  readonly marks: SoundMarks;
  /** Of the sound; null where it is not known. */
  readonly tempo: number | null;
  readonly onChange: (marks: SoundMarks) => void;
}

/** The waveform with its sustain and release loops, to be dragged, and what their seams look and sound like. */
export function LoopEditor({ clip, marks, tempo, onChange }: Props) {
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
        Drag the edges of a loop: they snap to zero crossings (with Shift they go free). Arrow keys move a focused edge
        by a sample, with Shift by 100.
      </Text>
      <Grid templateColumns="1fr 1fr" gap="4">
        {KINDS.map((kind) => (
          <LoopRow
            key={kind}
            kind={kind}
            clip={clip}
            tempo={tempo}
            loop={marks.loops.find((loop) => loop.kind === kind)}
            onChange={(loop) => setLoop(kind, loop)}
            snapped={snapped}
          />
        ))}
      </Grid>
    </Stack>
  );
}
