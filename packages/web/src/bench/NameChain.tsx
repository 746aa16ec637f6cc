import { type ChainDocument, edits } from '@hexenkessel/core/chain';
import type { Sound } from '@hexenkessel/core/protocol';
import { useAppDispatch } from '../app/store.ts';
import { edit } from '../chain/edit.ts';
import { suggestedName } from '../chain/newChain.ts';
import { NameDialog } from '../parts/NameDialog.tsx';

interface Props {
  readonly document: ChainDocument;
  /** What it is heard on. */
  readonly sound: Sound;
  readonly onNamed: () => void;
  readonly onClose: () => void;
}

/** Asks for the name of a chain before the first thing goes out that is called after it. */
export function NameChain({ document, sound, onNamed, onClose }: Props) {
  const dispatch = useAppDispatch();
  const suggested = suggestedName(document);
  return (
    <NameDialog
      title="Name of the new chain"
      value={suggested}
      maxLength={80}
      onDone={(typed) => {
        if (dispatch(nameChain(typed || suggested, sound))) onNamed();
      }}
      onClose={onClose}
    />
  );
}

/** Names a chain; from then on it says, too, which sound it was made on. */
export const nameChain = (name: string, sound: Pick<Sound, 'name' | 'sha256'>) => edit(edits.nameChain(name, sound));
