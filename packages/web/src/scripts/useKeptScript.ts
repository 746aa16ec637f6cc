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
  const [text, setText] = useState(script.text);
  const [keeping, setKeeping] = useState<Keeping>('kept');
  const [fault, setFault] = useState('');
  const [theirs, setTheirs] = useState<ScriptEntry>();
  const [save] = useSaveScriptMutation();
  const revision = useRef(script.revision);
  const kept = useRef(script.text);
  const running = useRef(Promise.resolve());
  const latest = useRef(text);
  latest.current = text;
  const own = script.from === 'own';

  // A file of the favourites is as it is now.
  useEffect(() => {
    if (!own) setText(script.text);
  }, [own, script.text]);

  const write = (wanted: string) => {
    running.current = running.current.then(async () => {
      if (wanted === kept.current) return;
      const result = await save({ id: script.id, revision: revision.current, text: wanted });
      if ('data' in result && result.data) {
        revision.current = result.data.revision;
        kept.current = wanted;
        setFault('');
        setKeeping(latest.current === wanted ? 'kept' : 'keeping');
        return;
      }
      const problem = problemOf(result.error) as ReturnType<typeof problemOf> & { readonly script?: ScriptEntry };
      setFault(problem.detail);
      setTheirs(problem.script);
      setKeeping(problem.script ? 'changed elsewhere' : 'not kept');
    });
    return running.current;
  };
  const latestWrite = useRef(write);
  latestWrite.current = write;

  useEffect(() => {
    if (!own || text === kept.current || theirs) return undefined;
    setKeeping('keeping');
    const timer = setTimeout(() => void latestWrite.current(text), WAIT);
    return () => clearTimeout(timer);
  }, [own, text, theirs]);
  // What was typed last is kept when the view is left.
  useEffect(() => () => void (own && latestWrite.current(latest.current)), [own]);

  return {
    text,
    setText,
    keeping,
    fault,
    /** Goes on with what another window has written, or writes over it. */
    settle(which: 'mine' | 'theirs') {
      if (!theirs) return;
      revision.current = theirs.revision;
      kept.current = theirs.text;
      setTheirs(undefined);
      setFault('');
      setKeeping(which === 'mine' ? 'keeping' : 'kept');
      if (which === 'theirs') setText(theirs.text);
    },
  };
}
