import { useEffect, useRef, useState } from 'react';
import type { ScriptEntry } from '@hexenkessel/core/protocol';
import { problemOf, useSaveScriptMutation } from '../api/api.ts';
import type { OpenScript } from './useScripts.ts';

/** Milliseconds after the last key until a text is kept. */
const WAIT = 500;

/** How a text stands on the server. */
export type Keeping = 'kept' | 'keeping' | 'changed elsewhere' | 'not kept';

/**
 * The text of a script as it is typed, kept on the server a moment after the last key. Where another window has changed it
 * meanwhile, nothing is written until it is said which one holds.
 */
export function useKeptScript(script: OpenScript) {
  const own = script.from === 'own';
  const [text, setText] = useState(script.text);
  const [kept, setKept] = useState(script.text);
  const [fault, setFault] = useState('');
  const [theirs, setTheirs] = useState<ScriptEntry>();
  const [save] = useSaveScriptMutation();
  const standing = useRef<Pick<OpenScript, 'revision' | 'text'>>(script);
  const running = useRef(Promise.resolve());
  const latest = useRef(text);
  latest.current = text;

  /** Takes note of what stands on the server. */
  const stands = (entry: Pick<OpenScript, 'revision' | 'text'>) => {
    standing.current = entry;
    setKept(entry.text);
    setTheirs(undefined);
    setFault('');
  };

  // A file of the favourites is as it is now.
  useEffect(() => {
    if (!own) setText(script.text);
  }, [own, script.text]);

  const write = (wanted: string) => {
    running.current = running.current.then(async () => {
      if (wanted === standing.current.text) return;
      const result = await save({ id: script.id, revision: standing.current.revision, text: wanted });
      if ('data' in result && result.data) {
        stands({ revision: result.data.revision, text: wanted });
        return;
      }
      const problem = problemOf(result.error) as ReturnType<typeof problemOf> & { readonly script?: ScriptEntry };
      setFault(problem.detail);
      setTheirs(problem.script);
    });
    return running.current;
  };
  const latestWrite = useRef(write);
  latestWrite.current = write;

  // Sets no state: an effect that does so with every key has React give up when keys come faster than it draws them.
  useEffect(() => {
    if (!own || text === kept || theirs) return undefined;
    const timer = setTimeout(() => void latestWrite.current(text), WAIT);
    return () => clearTimeout(timer);
  }, [own, text, kept, theirs]);
  // What was typed last is kept when the view is left.
  useEffect(() => () => void (own && latestWrite.current(latest.current)), [own]);

  const keeping = (): Keeping => {
    if (theirs) return 'changed elsewhere';
    if (!own || text === kept) return 'kept';
    return fault === '' ? 'keeping' : 'not kept';
  };
  return {
    text,
    setText,
    keeping: keeping(),
    fault,
    /** Goes on with what another window has written, or writes over it. */
    settle(which: 'mine' | 'theirs') {
      if (!theirs) return;
      stands(theirs);
      if (which === 'theirs') setText(theirs.text);
    },
  };
}
