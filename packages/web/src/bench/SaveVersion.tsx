import { Button } from '@chakra-ui/react';
import { Save } from 'lucide-react';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { dialogSet } from '../chain/viewSlice.ts';
import { laterPart } from '../parts/laterPart.tsx';

export const SaveVersionDialog = laterPart(async () => (await import('./SaveVersionDialog.tsx')).SaveVersionDialog);

/** Saves a version for good, with a note on why. */
export function SaveVersion() {
  const dispatch = useAppDispatch();
  const open = useAppSelector((state) => state.view.dialog === 'save');
  return (
    <>
      <Button
        size="xs"
        colorPalette="copperInk"
        aria-keyshortcuts="Control+S"
        onClick={() => dispatch(dialogSet('save'))}
      >
        <Save size={14} /> Save version
      </Button>
      {open && <SaveVersionDialog.Part onClose={() => void dispatch(dialogSet(null))} />}
    </>
  );
}
