import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { dialogSet } from '../chain/viewSlice.ts';
import { useComparison } from '../compare/comparison.ts';
import { BlindDialog } from '../compare/BlindDialog.tsx';
import { useBlindCandidates } from '../compare/useCandidates.ts';
import { usePlayback } from '../playback/usePlayback.ts';
import { ConflictDialog } from './ConflictDialog.tsx';
import { KeysDialog } from './KeysDialog.tsx';

/** What stands over the Bench when it is asked for, or has to be answered. */
export function BenchDialogs() {
  const dispatch = useAppDispatch();
  const dialog = useAppSelector((state) => state.view.dialog);
  const close = () => void dispatch(dialogSet(null));
  return (
    <>
      {dialog === 'keys' && <KeysDialog onClose={close} />}
      {dialog === 'blind' && <BlindTest onClose={close} />}
      <ConflictDialog />
    </>
  );
}

function BlindTest({ onClose }: { readonly onClose: () => void }) {
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
