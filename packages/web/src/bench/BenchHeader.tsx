import { Button, Flex, HStack, Heading, Input, Link, Text } from '@chakra-ui/react';
import { memo } from 'react';
import { FileText, Redo2, Undo2 } from 'lucide-react';
import { Link as RouterLink } from 'react-router';
import type { Sound } from '@hexenkessel/core/protocol';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { redo, undo } from '../chain/chainSlice.ts';
import { edit } from '../chain/edit.ts';
import { CompareBar } from '../compare/CompareBar.tsx';
import type { Compared } from '../compare/useCompare.ts';
import { IconAction } from '../parts/IconAction.tsx';
import { SaveVersion } from './SaveVersion.tsx';
import { VersionMenu } from './VersionMenu.tsx';

interface Props {
  readonly sound: Sound | undefined;
  readonly saveOpen: boolean;
  readonly onSaveOpen: (open: boolean) => void;
  readonly compared: Compared;
  readonly onBlind: () => void;
}

/** Name and version of the chain, undo and redo with what they undo, saving, the sheet. */
export const BenchHeader = memo(function BenchHeader({ sound, saveOpen, onSaveOpen, compared, onBlind }: Props) {
  const dispatch = useAppDispatch();
  const { past, present, future } = useAppSelector((state) => state.chain);
  const { chainId } = useAppSelector((state) => state.bench);
  const undone = past.length > 0 ? present.step : undefined;
  const redone = future[0]?.step;
  return (
    <Flex align="center" gap="2" px="3" height="48px" borderBottomWidth="1px" borderColor="ink" flexShrink={0}>
      <Heading as="h1" size="md" flex="0 1 210px" minWidth="90px">
        <Input
          aria-label="Name of the chain"
          variant="flushed"
          fontFamily="heading"
          fontSize="xl"
          size="sm"
          value={present.document.name}
          maxLength={80}
          onKeyDown={(event) => event.stopPropagation()}
          onChange={(event) => {
            const name = event.currentTarget.value;
            if (name.trim() !== '')
              dispatch(edit('name of the chain', (before) => ({ ...before, name }), 'chain name'));
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
      <CompareBar compared={compared} onBlind={onBlind} />
      <Flex flex="1" />
      <VersionMenu />
      <SaveVersion sound={sound} open={saveOpen} onOpenChange={onSaveOpen} />
      <Button asChild size="xs" variant="outline" borderColor="rule">
        <Link asChild textDecoration="none">
          <RouterLink to={`/sheet/${chainId ?? ''}${sound ? `?sound=${sound.id}` : ''}`}>
            <FileText size={14} /> Sheet
          </RouterLink>
        </Link>
      </Button>
    </Flex>
  );
});

function SaveState() {
  const { versions, savedText, draft, saving, revision } = useAppSelector((state) => state.bench);
  const document = useAppSelector((state) => state.chain.present.document);
  const newest = versions[0];
  const kept = JSON.stringify(document) === savedText;
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
