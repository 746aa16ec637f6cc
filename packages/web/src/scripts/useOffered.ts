import { useMemo } from 'react';
import { BUILT_INS, SCRIPT_LANGUAGE, type Catalogue, type Script, type Stage } from '@hexenkessel/core/stages';
import { useReadScripts } from './useReadScripts.ts';

/** What can be added to a chain beside what is built in and what it has already. */
export interface Offered {
  readonly catalogue: Catalogue;
  /** True while scripts are still being read. */
  readonly reading: boolean;
  /** The script that a stage would bring along; undefined for one that the chain can name by itself. */
  scriptOf(stage: Stage): Script | undefined;
}

/** Stages that are built in, those of the chain’s scripts, and those of scripts kept here, favourites and examples. */
export function useOffered(own: readonly Script[], asked: boolean): Offered {
  const { scripts: read, reading } = useReadScripts(asked);
  return useMemo(() => {
    const fresh = read.filter(({ text }) => own.every((script) => script.text !== text));
    const offered = fresh.map(({ text }, n) => ({ id: `offered${n}`, language: SCRIPT_LANGUAGE, text }));
    // The same list as ever where there is nothing more, so that what was worked out for it is found again.
    const catalogue = BUILT_INS.for({ scripts: offered.length === 0 ? own : [...own, ...offered] });
    return {
      catalogue,
      reading,
      scriptOf: (stage) => offered.find(({ id }) => id === catalogue.nameOf(stage).script),
    };
  }, [own, read, reading]);
}
