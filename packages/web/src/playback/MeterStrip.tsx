import { Box, Button, Flex, Text, chakra } from '@chakra-ui/react';
import { memo, useRef, type ReactNode, type RefObject } from 'react';
import { gainToDecibels, showLevel, showLoudness } from '@hexenkessel/core/model';
import { BOARD } from '@hexenkessel/core/live';
import { useAppDispatch, useAppStore } from '../app/store.ts';
import { shownChain, useShownSound } from '../chain/shownChain.ts';
import { dialogSet } from '../chain/viewSlice.ts';
import { barShare } from './levels.ts';
import { useBoard } from './useBoard.ts';
import { usePlayback } from './usePlayback.ts';

const WORDS_EVERY = 100; // milliseconds; faster figures cannot be read

/** What goes wrong seldom is put into words by what is fetched then. */
let coming: Promise<typeof import('./meterWarnings.ts')> | undefined;
const warnings = () =>
  (coming ??= import('./meterWarnings.ts').catch((error: unknown) => {
    coming = undefined; // asked again
    throw error;
  }));

const percent = (share: number) => `${(100 * share).toFixed(share < 0.1 ? 1 : 0)} %`;

/** What is heard now, in figures and bars, and what it costs. Drawn outside React. */
export const MeterStrip = memo(function MeterStrip() {
  const playback = usePlayback();
  const dispatch = useAppDispatch();
  const sound = useShownSound();
  const store = useAppStore();
  const left = useRef<HTMLDivElement>(null);
  const right = useRef<HTMLDivElement>(null);
  const needle = useRef<HTMLDivElement>(null);
  const peak = useRef<HTMLSpanElement>(null);
  const truePeak = useRef<HTMLSpanElement>(null);
  const shortTerm = useRef<HTMLSpanElement>(null);
  const correlation = useRef<HTMLSpanElement>(null);
  const load = useRef<HTMLSpanElement>(null);
  const warning = useRef<HTMLSpanElement>(null);
  const reset = useRef<HTMLButtonElement>(null);
  const spoken = useRef(0);
  useBoard((board, player) => {
    if (left.current) left.current.style.transform = `scaleX(${barShare(board[BOARD.peakLeft])})`;
    if (right.current) right.current.style.transform = `scaleX(${barShare(board[BOARD.peakRight])})`;
    if (needle.current) needle.current.style.left = `${50 + 50 * board[BOARD.correlation]}%`;
    const now = performance.now();
    if (now - spoken.current < WORDS_EVERY) return;
    spoken.current = now;
    const write = (place: RefObject<HTMLElement | null>, text: string) => {
      if (place.current && place.current.textContent !== text) place.current.textContent = text;
    };
    write(peak, level(Math.max(board[BOARD.peakLeft], board[BOARD.peakRight])));
    write(truePeak, level(board[BOARD.truePeak]).replace('dB', 'dBTP'));
    write(shortTerm, board[BOARD.shortTerm] > -70 ? showLoudness(board[BOARD.shortTerm]) : '– LUFS');
    write(correlation, board[BOARD.correlation].toFixed(2));
    const dropped = player.underruns;
    write(
      load,
      `${percent(board[BOARD.load])} · peak ${percent(board[BOARD.worstLoad])}${dropped ? ` · ${dropped} ${dropped === 1 ? 'dropout' : 'dropouts'}` : ''}`,
    );
    const over = board[BOARD.over] !== 0;
    const fault = board[BOARD.faultStage] !== 0 || board[BOARD.modulatorFaults] !== 0;
    const failed = board[BOARD.failures] !== 0;
    if (reset.current) reset.current.hidden = fault || (!over && !failed);
    if (!fault && !over && !failed && board[BOARD.passingStage] === 0) write(warning, '');
    else
      warnings().then(
        ({ warningText }) =>
          write(warning, warningText(board, shownChain(store.getState(), sound), playback.state.row ?? 'result')),
        () => undefined, // the server is away; the figures say it too
      );
  });
  return (
    <Flex
      role="group"
      aria-label="Meters"
      align="center"
      columnGap="4"
      px="3"
      minHeight="32px"
      wrap={{ base: 'wrap', md: 'nowrap' }}
      borderTopWidth="1px"
      borderColor="rule"
      fontSize="xs"
      flexShrink={0}
    >
      <Reading name="peak" value={peak} width="58px">
        <Box width="130px">
          <Bar bar={left} />
          <Bar bar={right} />
        </Box>
      </Reading>
      <Reading name="true peak" value={truePeak} width="76px" />
      <Reading name="short-term loudness" value={shortTerm} width="76px" />
      <Reading name="correlation" value={correlation} width="38px">
        <Box position="relative" width="64px" height="10px" borderWidth="1px" borderColor="rule" aria-hidden>
          <Box position="absolute" left="50%" top="0" bottom="0" width="1px" bg="rule" />
          <Box ref={needle} position="absolute" left="50%" top="-2px" bottom="-2px" width="2px" bg="ink" />
        </Box>
      </Reading>
      <Reading name="DSP load" value={load} width="190px" />
      <Flex flex="1" justify="end" align="center" gap="2" minWidth="0">
        <chakra.span ref={warning} color="alarm" truncate role="status" data-testid="over" />
        <Button ref={reset} size="2xs" variant="outline" hidden onClick={() => playback.player?.resetMeters()}>
          reset
        </Button>
        <Button size="2xs" variant="ghost" data-tip="All shortcuts (?)" onClick={() => dispatch(dialogSet('keys'))}>
          shortcuts
        </Button>
      </Flex>
    </Flex>
  );
});

function Reading({
  name,
  value,
  width,
  children,
}: {
  name: string;
  value: RefObject<HTMLSpanElement | null>;
  width: string;
  children?: ReactNode;
}) {
  return (
    <Flex align="center" gap="1.5" whiteSpace="nowrap">
      <Text as="span" color="faded">
        {name}
      </Text>
      {children}
      <chakra.span ref={value} fontFamily="mono" minWidth={width} data-meter={name}>
        –
      </chakra.span>
    </Flex>
  );
}

function Bar({ bar }: { bar: RefObject<HTMLDivElement | null> }) {
  return (
    <Box height="5px" my="1px" bg="shade" overflow="hidden" aria-hidden>
      <Box ref={bar} height="100%" bg="verdigris" transformOrigin="left" style={{ transform: 'scaleX(0)' }} />
    </Box>
  );
}

function level(amplitude: number): string {
  return amplitude < 1e-5 ? '– dB' : showLevel(gainToDecibels(amplitude));
}
