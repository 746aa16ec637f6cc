import { unifiedMergeView } from '@codemirror/merge';
import { EditorState } from '@codemirror/state';
import { EditorView } from '@codemirror/view';
import { Box, Button, List, Text } from '@chakra-ui/react';
import { useEffect, useMemo, useRef } from 'react';
import { InputError } from '@hexenkessel/core/model';
import { BUILT_INS, type Script } from '@hexenkessel/core/stages';
import { edits, lostByScript } from '@hexenkessel/core/chain';
import { useAppDispatch, useAppStore } from '../app/store.ts';
import { edit } from '../chain/edit.ts';
import { PlainDialog } from '../parts/PlainDialog.tsx';
import './editor.css';

interface Props {
  /** As the chain has it. */
  readonly script: Script;
  readonly title: string;
  /** What it may become. */
  readonly text: string;
  readonly onClose: () => void;
}

/** What another text of a script changes, line by line, and what the chain loses by it; taken only when that is said. */
export function UpdateScript({ script, title, text, onClose }: Props) {
  const dispatch = useAppDispatch();
  const store = useAppStore();
  const lost = useMemo(() => {
    try {
      return lostByScript(BUILT_INS, store.getState().chain.present.document, script.id, text);
    } catch (error) {
      if (!(error instanceof InputError)) throw error;
      return error;
    }
  }, [store, script.id, text]);
  const refused = lost instanceof InputError;
  return (
    <PlainDialog
      title={`Update ${title}`}
      size="lg"
      onClose={onClose}
      footer={
        <Button
          size="sm"
          colorPalette="copperInk"
          disabled={refused}
          onClick={() => {
            dispatch(edit(edits.changeScript(BUILT_INS, script.id, text)));
            onClose();
          }}
        >
          Take the other text
        </Button>
      }
    >
      {refused ? (
        <Text color="alarm" role="alert">
          {lost.message}
        </Text>
      ) : lost.length === 0 ? (
        <Text>All settings of the chain stay as they are.</Text>
      ) : (
        <>
          <Text>The chain loses by it:</Text>
          <List.Root ps="5">
            {lost.map((one) => (
              <List.Item key={one}>{one}</List.Item>
            ))}
          </List.Root>
        </>
      )}
      <Difference before={script.text} after={text} />
    </PlainDialog>
  );
}

function Difference({ before, after }: { readonly before: string; readonly after: string }) {
  const host = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const view = new EditorView({
      parent: host.current!,
      state: EditorState.create({
        doc: after,
        extensions: [
          EditorState.readOnly.of(true),
          EditorView.editable.of(false),
          EditorView.lineWrapping,
          EditorView.contentAttributes.of({ 'aria-label': 'Difference', tabindex: '0' }),
          unifiedMergeView({ original: before, mergeControls: false, collapseUnchanged: { margin: 2 } }),
        ],
      }),
    });
    return () => view.destroy();
  }, [before, after]);
  return (
    <Box
      ref={host}
      mt="2"
      maxHeight="50vh"
      overflowY="auto"
      className="script-editor"
      borderWidth="1px"
      borderColor="rule"
    />
  );
}
