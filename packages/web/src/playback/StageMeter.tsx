import { Box, chakra } from '@chakra-ui/react';
import { useRef } from 'react';
import { stageCostPlace, stagePeakPlace } from '@hexenkessel/core/live';
import { useShown } from '../chain/shownChain.ts';
import { barShare } from './levels.ts';
import { useBoard } from './useBoard.ts';
import { boardPlaces, liveStageIds } from './liveRows.ts';
import { usePlayingRow } from './usePlayback.ts';

interface Props {
  readonly stageId: string;
  /** What rendering it has cost, in words; shown while it does not play. */
  readonly rendering: string;
}

const WORDS_EVERY = 250; // milliseconds

/** How loud a live stage is while it plays, whether it has passed full scale, and what it costs. Drawn outside React. */
export function StageMeter({ stageId, rendering }: Props) {
  const playing = usePlayingRow();
  // Where it stands on the board; undefined when it does not run live.
  const place = useShown((chain) => boardPlaces(chain, playing ?? 'result').get(stageId));
  const live = useShown((chain) => liveStageIds(chain).has(stageId));
  const bar = useRef<HTMLDivElement>(null);
  const mark = useRef<HTMLButtonElement>(null);
  const cost = useRef<HTMLSpanElement>(null);
  const spoken = useRef(0);
  const over = useRef(false);
  const running = place !== undefined && playing !== undefined;
  useBoard((board) => {
    const peak = place !== undefined && playing ? board[stagePeakPlace(place)] : 0;
    if (bar.current) bar.current.style.transform = `scaleX(${barShare(peak)})`;
    if (peak > 1) over.current = true;
    if (mark.current) mark.current.hidden = !over.current;
    const now = performance.now();
    if (!cost.current || now - spoken.current < WORDS_EVERY) return;
    spoken.current = now;
    cost.current.textContent =
      running && place !== undefined ? `${(100 * board[stageCostPlace(place)]).toFixed(1)} %` : rendering;
  });
  return (
    <Box display="flex" alignItems="center" gap="1.5" height="12px">
      <chakra.span fontSize="11px" lineHeight="1" color="faded" data-run>
        {live ? 'live' : 'rendered'}
      </chakra.span>
      <Box flex="1" height="4px" bg={running ? 'shade' : 'transparent'} overflow="hidden" aria-hidden>
        <Box ref={bar} height="100%" bg="verdigris" transformOrigin="left" style={{ transform: 'scaleX(0)' }} />
      </Box>
      <chakra.button
        ref={mark}
        type="button"
        hidden
        fontSize="11px"
        lineHeight="1"
        color="alarm"
        fontWeight="700"
        title="It passed 0 dBFS; click to clear"
        data-testid="stage-over"
        onClick={(event) => {
          event.stopPropagation();
          over.current = false;
          event.currentTarget.hidden = true;
        }}
      >
        over
      </chakra.button>
      <chakra.span
        ref={cost}
        fontFamily="mono"
        fontSize="11px"
        lineHeight="1"
        color="faded"
        whiteSpace="nowrap"
        title={running ? 'Share of the time there is, while it plays' : 'Time that rendering it took'}
        data-cost
      >
        {running ? '' : rendering}
      </chakra.span>
    </Box>
  );
}
