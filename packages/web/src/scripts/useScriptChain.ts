import { useCallback, useRef, useState } from 'react';
import { InputError } from '@hexenkessel/core/model';
import { BUILT_INS, SCRIPT_LANGUAGE, type SettingValue } from '@hexenkessel/core/stages';
import { changeScript, emptyChain, setSetting, withScriptStage, type ChainDocument } from '@hexenkessel/core/chain';
import { tellFailure } from '../app/toaster.tsx';

/** A chain of one stage, the script; there is one once a text was set. Its settings stay as they were turned while the text changes. */
export function useScriptChain() {
  const [chain, setChain] = useState<ChainDocument>();
  const latest = useRef(chain);
  const take = useCallback((next: ChainDocument) => {
    latest.current = next;
    setChain(next);
  }, []);
  const setText = useCallback(
    (text: string) => {
      const before = latest.current;
      const [script] = before?.scripts ?? [];
      if (before && script) take(changeScript(BUILT_INS, before, script.id, text));
      else {
        const own = withScriptStage(BUILT_INS, emptyChain(BUILT_INS, 'Script'), { language: SCRIPT_LANGUAGE, text });
        take({ ...own.chain, stages: [own.stage] });
      }
    },
    [take],
  );
  const set = useCallback(
    (key: string, value: SettingValue): boolean => {
      const before = latest.current;
      if (!before) return false;
      try {
        take(setSetting(BUILT_INS, before, `${before.stages[0].id}.${key}`, value));
        return true;
      } catch (error) {
        if (!(error instanceof InputError)) throw error;
        tellFailure('Could not set it', error.message);
        return false;
      }
    },
    [take],
  );
  return { chain, set, setText };
}
