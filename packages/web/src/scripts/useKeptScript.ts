import { useEffect, useState } from 'react';
import { api, problemOf } from '../api/api.ts';
import { useAppDispatch, type AppDispatch } from '../app/store.ts';
import { tellFailure } from '../app/toaster.tsx';
import { useSubject } from '../parts/useSubject.ts';
import { ScriptText, type Refusal, type ScriptTextState } from './scriptText.ts';
import { titleIn } from './titles.ts';
import type { OpenScript } from './useScripts.ts';

/** How a text stands on the server. */
export type Keeping = 'kept' | 'keeping' | 'changed elsewhere' | 'not kept';

/** Those that were opened in this window, by their ids. */
const texts = new Map<string, ScriptText>();

// The window is not closed unasked over a text that is not kept; meanwhile it is written.
window.addEventListener('beforeunload', (event) => {
  for (const text of texts.values())
    if (text.isUnkept) {
      void text.keep();
      event.preventDefault();
    }
});

function textOf(script: OpenScript, dispatch: AppDispatch): ScriptText {
  const { id } = script;
  const known = texts.get(id);
  if (known) return known;
  const fresh = new ScriptText(script, async (revision, text) => {
    const { data, error } = await dispatch(api.endpoints.saveScript.initiate({ id, revision, text }));
    return data ? { revision: data.revision, text } : (problemOf(error) as Refusal);
  });
  texts.set(id, fresh);
  return fresh;
}

/** The text of a script that is at work, and how it stands on the server. A view of its own for each script. */
export function useKeptScript(script: OpenScript) {
  const dispatch = useAppDispatch();
  const [work] = useState(() => textOf(script, dispatch));
  const state = useSubject(work, whole);
  useEffect(() => work.arrive(script), [work, script]);
  // What was typed last is kept when the view is left.
  useEffect(
    () => () =>
      void work.keep().then(() => {
        if (work.isUnkept)
          tellFailure(
            `The last change to “${titleIn(work.state.text)}” is not kept yet`,
            work.state.refusal?.detail ?? '',
          );
      }),
    [work],
  );
  return {
    text: state.text,
    setText: (text: string) => work.type(text),
    keeping: keepingOf(state),
    fault: state.refusal?.detail ?? '',
    discard: () => work.discard(),
    settle: (which: 'mine' | 'theirs') => work.settle(which),
  };
}

const whole = (state: ScriptTextState) => state;

function keepingOf({ text, standing, refusal }: ScriptTextState): Keeping {
  if (refusal?.script) return 'changed elsewhere';
  if (text === standing.text) return 'kept';
  return refusal ? 'not kept' : 'keeping';
}
