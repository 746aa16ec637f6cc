import { Button, Dialog, Portal, Stack, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { stageTitle, type ChainDocument } from '@hexenkessel/core/chain';
import { api, problemOf } from '../api/api.ts';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { tellDone, tellFailure } from '../app/toaster.tsx';
import { conflictSettled } from '../chain/benchSlice.ts';
import { keepDraft, openChain } from '../chain/useChainWork.ts';

/** Another window saved this chain meanwhile: both states are shown, and each way on keeps both. */
export function ConflictDialog() {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const conflict = useAppSelector((state) => state.bench.conflict);
  const mine = useAppSelector((state) => state.chain.present.document);
  const [busy, setBusy] = useState(false);
  if (!conflict) return null;
  const theirs = conflict.document;

  const attempt = async (work: () => Promise<void>) => {
    setBusy(true);
    try {
      await work();
    } catch (error) {
      tellFailure('Conflict not resolved', problemOf(error).detail);
    } finally {
      setBusy(false);
    }
  };
  /** Mine becomes a chain of its own; the other window's is opened. */
  const keepBoth = () =>
    attempt(async () => {
      const name = `${mine.name.slice(0, 70)} (mine)`;
      const created = await dispatch(api.endpoints.createChain.initiate({ document: { ...mine, name } })).unwrap();
      dispatch(openChain(conflict));
      tellDone('Both are saved', `Your work is the new chain "${name}".`);
      void navigate(`/bench/${created.id}${window.location.search}`);
    });
  /** The other window's becomes a version; mine goes on top of it. */
  const mineOnTop = () =>
    attempt(async () => {
      let { revision } = conflict;
      if (conflict.unsaved) {
        const kept = await dispatch(
          api.endpoints.saveVersion.initiate({
            id: conflict.id,
            revision,
            document: theirs,
            why: 'Saved from another window',
          }),
        ).unwrap();
        revision = kept.revision;
      }
      dispatch(conflictSettled({ revision }));
      await dispatch(keepDraft());
    });

  return (
    <Dialog.Root open role="alertdialog" placement="center" closeOnEscape={false} closeOnInteractOutside={false}>
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="sheet" maxWidth="40rem">
            <Dialog.Header>
              <Dialog.Title>This chain was changed in another window</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body>
              <Stack gap="3">
                <State title="Here" document={mine} />
                <State title="In the other window" document={theirs} />
                <Text>Neither is lost, whichever you choose.</Text>
              </Stack>
            </Dialog.Body>
            <Dialog.Footer>
              <Button variant="outline" loading={busy} onClick={() => void keepBoth()}>
                Keep mine as a chain of its own
              </Button>
              <Button colorPalette="copperInk" loading={busy} onClick={() => void mineOnTop()}>
                Put mine on top, theirs as a version
              </Button>
            </Dialog.Footer>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}

function State({ title, document }: { title: string; document: ChainDocument }) {
  return (
    <Text>
      <b>{title}:</b> {document.name}, {document.timing.tempo} bpm,{' '}
      {document.stages.map((stage) => stageTitle(BUILT_INS.for(document), stage)).join(' → ') || 'no stages'}
    </Text>
  );
}
