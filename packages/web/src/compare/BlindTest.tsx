import { usePlayback } from '../playback/usePlayback.ts';
import { BlindDialog } from './BlindDialog.tsx';
import { useComparison } from './comparison.ts';
import { useBlindCandidates } from './useCandidates.ts';

/** Two of what is compared, heard without knowing which is which. */
export function BlindTest({ onClose }: { readonly onClose: () => void }) {
  const { blind, setBlind, blindReady } = useComparison();
  const playback = usePlayback();
  const candidates = useBlindCandidates();
  return (
    <BlindDialog
      candidates={candidates}
      pair={blind}
      ready={blindReady}
      onPair={(pair) => {
        setBlind(pair);
        if (pair && playback.state.row === undefined) playback.toggle('result');
      }}
      onClose={onClose}
    />
  );
}
