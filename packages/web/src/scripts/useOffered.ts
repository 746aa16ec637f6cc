import { useEffect, useMemo, useState } from 'react';
import { BUILT_INS, SCRIPT_LANGUAGE, type Catalogue, type Script, type Stage } from '@hexenkessel/core/stages';
import { useScriptsQuery } from '../api/api.ts';
import { pictures } from '../pictures/usePicture.ts';
import { learn } from './readyFor.ts';

/** What can be added to a chain beside what is built in and what it has already. */
export interface Offered {
  readonly catalogue: Catalogue;
  /** The script that a stage would bring along; undefined for one that the chain can name by itself. */
  scriptOf(stage: Stage): Script | undefined;
}

const NONE: readonly string[] = [];

/** Stages that are built in, those of the chain’s scripts, and those of scripts kept here, favourites and examples. */
export function useOffered(own: readonly Script[], asked: boolean): Offered {
  const { data } = useScriptsQuery(undefined, { skip: !asked });
  const [texts, setTexts] = useState(NONE);
  useEffect(() => {
    if (!asked || !data) return undefined;
    let left = false;
    // What was read may have to be read again, much later.
    learn().catch(() => undefined);
    readable(data.map(({ text }) => text))
      .then((found) => {
        if (!left) setTexts(found);
      })
      .catch(() => undefined); // what is built in can be added all the same
    return () => void (left = true);
  }, [asked, data]);
  return useMemo(() => {
    const fresh = texts.filter((text) => own.every((script) => script.text !== text));
    const offered = fresh.map((text, n) => ({ id: `offered${n}`, language: SCRIPT_LANGUAGE, text }));
    // The same list as ever where there is nothing more, so that what was worked out for it is found again.
    const catalogue = BUILT_INS.for({ scripts: offered.length === 0 ? own : [...own, ...offered] });
    return {
      catalogue,
      scriptOf: (stage) => offered.find(({ id }) => id === catalogue.nameOf(stage).script),
    };
  }, [own, texts]);
}

/** Those of the texts, and of those that ship, that are scripts; read in a thread, so that the page goes on meanwhile. */
async function readable(kept: readonly string[]): Promise<readonly string[]> {
  const work = pictures();
  const texts = [...new Set([...kept, ...(await work.exampleTexts())])];
  const said = await work.readScripts(texts);
  texts.forEach((text, n) => {
    if (said[n] !== undefined) BUILT_INS.take(SCRIPT_LANGUAGE, text, said[n]);
  });
  return texts.filter((_, n) => said[n] !== undefined);
}
