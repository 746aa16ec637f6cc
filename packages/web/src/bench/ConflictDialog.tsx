import { Box, Button, Dialog, Portal, Stack, Table, Text } from '@chakra-ui/react';
import { useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { differences, type ChainDocument, edits } from '@hexenkessel/core/chain';
import { api, problemOf } from '../api/api.ts';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { tellDone, tellFailure } from '../app/toaster.tsx';
import { edit } from '../chain/edit.ts';
import { conflictSettled, saved } from '../chain/serverSlice.ts';
import { keepDraft, openChain } from '../chain/useChainWork.ts';

/** Another window saved this chain meanwhile: both states are shown, and each way on keeps both. */
export function ConflictDialog() {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const conflict = useAppSelector((state) => state.server.conflict);
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

  /** Theirs as one step of work here, so that undo leads back to mine. */
  const takeTheirs = () => {
    dispatch(conflictSettled({ revision: conflict.revision }));
    dispatch(saved(conflict));
    dispatch(edit(edits.replaceChain('take over the other window’s chain', theirs)));
  };

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
                <Differences mine={mine} theirs={theirs} />
                <Text>
                  “Take theirs” keeps yours as a step that undo leads back to; with the other two neither is lost.
                </Text>
              </Stack>
            </Dialog.Body>
            <Dialog.Footer flexWrap="wrap">
              <Button variant="outline" loading={busy} onClick={takeTheirs}>
                Take theirs
              </Button>
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

/** What the two states differ in; a long list scrolls. */
function Differences({ mine, theirs }: { readonly mine: ChainDocument; readonly theirs: ChainDocument }) {
  const found = useMemo(() => differences(BUILT_INS, mine, theirs), [mine, theirs]);
  if (found.length === 0) return <Text>Both are the same now.</Text>;
  return (
    <Box maxHeight="40vh" overflowY="auto" tabIndex={0} role="group" aria-label="What differs">
      <Table.Root size="sm" variant="line">
        <Table.Header>
          <Table.Row bg="transparent">
            {['what differs', 'here', 'in the other window'].map((title) => (
              <Table.ColumnHeader key={title}>{title}</Table.ColumnHeader>
            ))}
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {found.map(({ what, first, second }) => (
            <Table.Row key={what} bg="transparent">
              <Table.Cell>{what}</Table.Cell>
              <Table.Cell fontFamily="mono">{first ?? 'not there'}</Table.Cell>
              <Table.Cell fontFamily="mono">{second ?? 'not there'}</Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </Box>
  );
}
