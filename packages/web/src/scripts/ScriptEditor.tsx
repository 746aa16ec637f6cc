import { closeBrackets, closeBracketsKeymap, completionKeymap } from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap, indentLess, indentMore } from '@codemirror/commands';
import { javascript } from '@codemirror/lang-javascript';
import { HighlightStyle, bracketMatching, indentOnInput, indentUnit, syntaxHighlighting } from '@codemirror/language';
import { lintGutter, setDiagnostics } from '@codemirror/lint';
import { highlightSelectionMatches, search, searchKeymap } from '@codemirror/search';
import { Compartment, EditorState } from '@codemirror/state';
import { EditorView, drawSelection, highlightActiveLine, keymap, lineNumbers } from '@codemirror/view';
import { Box } from '@chakra-ui/react';
import { tags } from '@lezer/highlight';
import { useEffect, useRef } from 'react';
import type { ScriptFault } from '@hexenkessel/core/script';
import { scriptCompletion, scriptHover } from './editorLanguage.ts';
import './editor.css';

interface Props {
  /** Names the text that is edited; with another one the editor begins anew. */
  readonly id: string;
  readonly text: string;
  readonly faults: readonly ScriptFault[];
  readonly readOnly: boolean;
  readonly onText: (text: string) => void;
  /** Gives a way to put the cursor at a place. */
  readonly onReady: (goTo: (place: { readonly line: number; readonly column: number }) => void) => void;
}

const colour = (name: string) => `var(--chakra-colors-${name})`;
const COLOURS = HighlightStyle.define([
  { tag: [tags.keyword, tags.moduleKeyword, tags.controlKeyword], color: colour('copper') },
  { tag: [tags.string, tags.number, tags.bool], color: colour('verdigris') },
  { tag: tags.comment, color: colour('faded'), fontStyle: 'italic' },
  { tag: [tags.function(tags.variableName), tags.definition(tags.variableName)], fontWeight: '600' },
]);

/** Tab moves the focus on, as everywhere on a page; with Ctrl it sets lines in and out. */
const INDENT = [
  { key: 'Mod-]', run: indentMore },
  { key: 'Mod-[', run: indentLess },
];

/** The text of a script, with its faults where they stand. */
export function ScriptEditor({ id, text, faults, readOnly, onText, onReady }: Props) {
  const host = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView>(undefined);
  const writable = useRef(new Compartment());
  const latest = useRef({ text, onText, onReady });
  latest.current = { text, onText, onReady };
  useEffect(() => {
    const editor = new EditorView({
      parent: host.current!,
      state: EditorState.create({
        doc: latest.current.text,
        extensions: [
          lineNumbers(),
          history(),
          drawSelection(),
          indentOnInput(),
          indentUnit.of('  '),
          bracketMatching(),
          closeBrackets(),
          highlightActiveLine(),
          highlightSelectionMatches(),
          search({ top: true }),
          javascript(),
          syntaxHighlighting(COLOURS),
          scriptCompletion,
          scriptHover,
          lintGutter(),
          keymap.of([
            ...closeBracketsKeymap,
            ...completionKeymap,
            ...searchKeymap,
            ...historyKeymap,
            ...INDENT,
            ...defaultKeymap,
          ]),
          EditorView.lineWrapping,
          EditorView.contentAttributes.of({ 'aria-label': 'Text of the script', tabindex: '0' }),
          EditorView.updateListener.of((update) => {
            if (update.docChanged) latest.current.onText(update.state.doc.toString());
          }),
          writable.current.of([]),
        ],
      }),
    });
    view.current = editor;
    latest.current.onReady(({ line, column }) => {
      const { doc } = editor.state;
      const found = doc.line(Math.max(1, Math.min(doc.lines, line)));
      const anchor = Math.min(found.to, found.from + column - 1);
      editor.dispatch({ selection: { anchor }, scrollIntoView: true });
      editor.focus();
    });
    // What opens below it, such as the list of faults, leaves the cursor in sight.
    const watcher = new ResizeObserver(() => {
      const { head } = editor.state.selection.main;
      if (editor.hasFocus) editor.dispatch({ effects: EditorView.scrollIntoView(head, { yMargin: 24 }) });
    });
    watcher.observe(host.current!);
    return () => {
      watcher.disconnect();
      editor.destroy();
    };
  }, [id]);
  useEffect(() => {
    view.current?.dispatch({
      effects: writable.current.reconfigure(readOnly ? [EditorState.readOnly.of(true)] : []),
    });
  }, [id, readOnly]);
  // Taken from elsewhere: another window’s text, for one.
  useEffect(() => {
    const editor = view.current;
    if (!editor || editor.state.doc.toString() === text) return;
    editor.dispatch({ changes: { from: 0, to: editor.state.doc.length, insert: text } });
  }, [text]);
  useEffect(() => {
    const editor = view.current;
    if (!editor) return;
    const { doc } = editor.state;
    const diagnostics = faults.map(({ line, column, message }) => {
      const found = doc.line(Math.max(1, Math.min(doc.lines, line)));
      const from = Math.min(found.to, found.from + column - 1);
      const rest = /^[\w$.]+|^./.exec(found.text.slice(from - found.from));
      return { from, to: Math.min(found.to, from + (rest?.[0].length ?? 0)), severity: 'error' as const, message };
    });
    editor.dispatch(setDiagnostics(editor.state, diagnostics));
  }, [id, faults]);
  return <Box ref={host} height="100%" minHeight="0" className="script-editor" data-readonly={readOnly || undefined} />;
}
