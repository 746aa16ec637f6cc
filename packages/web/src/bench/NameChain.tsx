import type { ChainDocument } from '@hexenkessel/core/chain';
import { useAppDispatch } from '../app/store.ts';
import { edit } from '../chain/edit.ts';
import { suggestedName } from '../chain/newChain.ts';
import { NameDialog } from '../parts/NameDialog.tsx';

interface Props {
  readonly document: ChainDocument;
  readonly onNamed: () => void;
  readonly onClose: () => void;
}

/** Asks for the name of a chain before the first thing goes out that is called after it. */
export function NameChain({ document, onNamed, onClose }: Props) {
  const dispatch = useAppDispatch();
  const suggested = suggestedName(document);
  return (
    <NameDialog
      title="Name of the new chain"
      value={suggested}
      maxLength={80}
      onDone={(typed) => {
        if (dispatch(nameChain(typed || suggested))) onNamed();
      }}
      onClose={onClose}
    />
  );
}

export const nameChain = (name: string) => edit('name of the chain', (before) => ({ ...before, name }));
