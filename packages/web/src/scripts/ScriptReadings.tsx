import { Text } from '@chakra-ui/react';
import { useRef, useState, type RefObject } from 'react';
import { BOARD, OVERDUE } from '@hexenkessel/core/live';
import { useBoard } from '../playback/useBoard.ts';

/** Milliseconds between two readings. */
const READ_EVERY = 250;

/** How much of the time there is the script takes while it plays, and how soon a change of its text was heard. */
export function ScriptReadings({ typed }: { readonly typed: RefObject<number> }) {
  const [{ text, muted }, setShown] = useState({ text: '', muted: false });
  const seen = useRef({ plan: -1, typed: typed.current, heard: '', read: 0 });
  useBoard((board, player) => {
    const now = performance.now();
    const before = seen.current;
    const plan = board[BOARD.plan];
    if (plan !== before.plan) {
      if (before.plan !== -1 && typed.current > before.typed) {
        const device = Math.round(1000 * player.deviceLatency);
        before.heard = ` · heard ${Math.round(now - typed.current)} ms after the last key${device > 0 ? `, and ${device} ms of the device` : ''}`;
      }
      before.plan = plan;
      before.typed = typed.current;
    }
    if (now - before.read < READ_EVERY) return;
    before.read = now;
    const overdue = board[BOARD.passingStage] !== 0 && board[BOARD.passingLine] === OVERDUE;
    const load = `DSP load ${(100 * board[BOARD.load]).toFixed(0)} %`;
    setShown({
      text: overdue
        ? 'It takes more than 60 % of the time there is and is muted; stop and play to start it again.'
        : `${load}${before.heard}`,
      muted: overdue,
    });
  });
  return (
    <Text fontSize="sm" color={muted ? 'alarm' : 'faded'} data-readings>
      {text}
    </Text>
  );
}
