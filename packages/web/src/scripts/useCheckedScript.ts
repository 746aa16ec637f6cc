import { useLayoutEffect, useRef, useState, type RefObject } from 'react';
import type { ScriptFault } from '@hexenkessel/core/script';
import { BUILT_INS, SCRIPT_LANGUAGE } from '@hexenkessel/core/stages';
import { preparer } from '../playback/preparing.ts';

/** Milliseconds after the last key until a text is compiled. */
const WAIT = 40;
const NONE: readonly ScriptFault[] = [];

export interface Checked {
  /** What compiled last; empty until something has. */
  readonly good: string;
  readonly faults: readonly ScriptFault[];
  /** True until the text as it stands has been looked at. */
  readonly waiting: boolean;
}

/**
 * Has a text compiled, away from the page, whenever it changes; `onGood` gets it when it is in order. `typed`: when the last
 * key was pressed, by the clock of the page, so that the time it takes to draw the key is not waited in addition.
 */
export function useCheckedScript(text: string, typed: RefObject<number>, onGood: (text: string) => void): Checked {
  const [checked, setChecked] = useState({ text: '', good: '', faults: NONE });
  const turn = useRef(0);
  // Not only once the key is drawn: what was typed is to be heard soon.
  useLayoutEffect(() => {
    const mine = ++turn.current;
    const timer = setTimeout(
      () => {
        preparer()
          .checkScript(text)
          .then(({ said, faults }) => {
            if (mine !== turn.current) return;
            if (faults.length === 0) {
              // Read there, it need not be read on the page.
              BUILT_INS.take(SCRIPT_LANGUAGE, text, said);
              onGood(text);
            }
            setChecked(({ good }) => ({ text, good: faults.length === 0 ? text : good, faults }));
          })
          .catch(() => undefined); // a thread that is gone; the next key asks again
      },
      turn.current === 1 ? 0 : Math.min(WAIT, Math.max(0, WAIT - (performance.now() - typed.current))),
    );
    return () => clearTimeout(timer);
  }, [text, typed, onGood]);
  return { good: checked.good, faults: checked.faults, waiting: checked.text !== text };
}
