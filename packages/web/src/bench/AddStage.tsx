import { Button } from '@chakra-ui/react';
import { Plus } from 'lucide-react';
import { useState } from 'react';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { dialogSet } from '../chain/viewSlice.ts';
import { laterPart } from '../parts/laterPart.tsx';
import { whereToAdd } from './placeToAdd.ts';

export const AddStageDialog = laterPart(async () => (await import('./AddStageDialog.tsx')).AddStageDialog);

/** Opens the search for a stage. */
export function AddStage() {
  const dispatch = useAppDispatch();
  const open = useAppSelector((state) => state.view.dialog === 'add');
  const where = useAppSelector(whereToAdd);
  // It stays once it was there, so that it can fade out.
  const [wasOpen, setWasOpen] = useState(false);
  if (open && !wasOpen) setWasOpen(true);
  return (
    <>
      <Button
        size="xs"
        variant="ghost"
        color="copper"
        my="1"
        ml="2"
        aria-haspopup="dialog"
        aria-keyshortcuts="+"
        onClick={() => dispatch(dialogSet('add'))}
      >
        <Plus size={15} /> {where === undefined ? 'Add a stage' : `Add a stage to ${where}`}
      </Button>
      {wasOpen && <AddStageDialog.Part />}
    </>
  );
}
