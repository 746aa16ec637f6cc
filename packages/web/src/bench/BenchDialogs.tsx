import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { dialogSet } from '../chain/viewSlice.ts';
import { isFirstDone, useRendered } from '../cascade/useRenderer.ts';
import { laterPart, useFetchedLater } from '../parts/laterPart.tsx';
import { ShownDialog } from '../parts/PlainDialog.tsx';
import { AddStageDialog } from './AddStage.tsx';
import { SaveVersionDialog } from './SaveVersion.tsx';

const KeysDialog = laterPart(async () => (await import('./KeysDialog.tsx')).KeysDialog);
const BlindTest = laterPart(async () => (await import('../compare/BlindTest.tsx')).BlindTest);
const ConflictDialog = laterPart(async () => (await import('./ConflictDialog.tsx')).ConflictDialog);
const LATER = [ShownDialog, SaveVersionDialog, AddStageDialog, KeysDialog, BlindTest, ConflictDialog];

/** What stands over the Bench when it is asked for, or has to be answered. */
export function BenchDialogs() {
  const dispatch = useAppDispatch();
  const dialog = useAppSelector((state) => state.view.dialog);
  const hasConflict = useAppSelector((state) => state.server.conflict !== null);
  useFetchedLater(useRendered(isFirstDone), LATER);
  const close = () => void dispatch(dialogSet(null));
  return (
    <>
      {dialog === 'keys' && <KeysDialog.Part onClose={close} />}
      {dialog === 'blind' && <BlindTest.Part onClose={close} />}
      {hasConflict && <ConflictDialog.Part />}
    </>
  );
}
