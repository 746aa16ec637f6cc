import { Button, Flex, HStack, Heading, Input, Link, Text } from '@chakra-ui/react';
import { edits } from '@hexenkessel/core/chain';
import { memo } from 'react';
import { FileText, Redo2, Undo2 } from 'lucide-react';
import { Link as RouterLink } from 'react-router';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { redo, undo } from '../chain/chainSlice.ts';
import { useShownSound } from '../chain/shownChain.ts';
import { edit } from '../chain/edit.ts';
import { CompareBar } from '../compare/CompareBar.tsx';
import { isConfirmed } from '../chain/useChainWork.ts';
import { IconAction } from '../parts/IconAction.tsx';
import { ChainFile } from './ChainFile.tsx';
import { SaveVersion } from './SaveVersion.tsx';
import { VersionMenu } from './VersionMenu.tsx';

/** Name and version of the chain, undo and redo with what they undo, saving, the sheet. */
export const BenchHeader = memo(function BenchHeader() {
  const sound = useShownSound();
  const dispatch = useAppDispatch();
  const chainId = useAppSelector((state) => state.server.chainId);
  const name = useAppSelector((state) => state.chain.present.document.name);
  const undone = useAppSelector(({ chain }) => (chain.past.length > 0 ? chain.present.step : undefined));
  const redone = useAppSelector(({ chain }) => (chain.future.length > 0 ? chain.future[0].step : undefined));
  return (
    <Flex
      align="center"
      gap="2"
      px="3"
      minHeight="48px"
      wrap={{ base: 'wrap', lg: 'nowrap' }}
      borderBottomWidth="1px"
      borderColor="ink"
      flexShrink={0}
    >
      <Heading as="h1" size="md" flex="0 1 210px" minWidth="90px">
        <Input
          aria-label="Name of the chain"
          variant="flushed"
          fontFamily="heading"
          fontSize="xl"
          size="sm"
          value={name}
          maxLength={80}
          onKeyDown={(event) => event.stopPropagation()}
          onChange={(event) => {
            const typed = event.currentTarget.value;
            if (typed.trim() !== '') dispatch(edit(edits.nameChain(typed), 'chain name'));
          }}
        />
      </Heading>
      <SaveState />
      <HStack gap="1">
        <IconAction
          label={undone ? `Undo: ${undone}` : 'Nothing to undo'}
          shortcut="Ctrl+Z"
          disabled={!undone}
          onClick={() => dispatch(undo())}
        >
          <Undo2 size={16} />
        </IconAction>
        <IconAction
          label={redone ? `Redo: ${redone}` : 'Nothing to redo'}
          shortcut="Ctrl+Shift+Z"
          disabled={!redone}
          onClick={() => dispatch(redo())}
        >
          <Redo2 size={16} />
        </IconAction>
      </HStack>
      <CompareBar />
      <Flex flex="1" />
      <VersionMenu />
      <SaveVersion />
      <ChainFile />
      <Button asChild size="xs" variant="outline" borderColor="rule">
        <Link asChild textDecoration="none">
          <RouterLink to={`/sheet/${chainId ?? ''}?sound=${sound.id}`}>
            <FileText size={14} /> Sheet
          </RouterLink>
        </Link>
      </Button>
    </Flex>
  );
});

function SaveState() {
  const { versions, draft, saving, revision } = useAppSelector((state) => state.server);
  const newest = versions[0];
  const kept = useAppSelector(isConfirmed);
  const state =
    saving === 'saving'
      ? 'saving …'
      : saving === 'failed'
        ? 'not saved'
        : !kept
          ? 'changed'
          : draft
            ? 'draft saved'
            : revision === 0
              ? 'nothing to save yet'
              : 'saved as version';
  return (
    <Text
      fontSize="sm"
      fontFamily="mono"
      color={saving === 'failed' ? 'alarm' : 'faded'}
      role="status"
      whiteSpace="nowrap"
    >
      {newest ? `version ${newest.number}` : 'no version yet'} · {state}
    </Text>
  );
}
