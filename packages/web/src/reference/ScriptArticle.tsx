import { Link, Text } from '@chakra-ui/react';
import { useMemo } from 'react';
import { Link as RouterLink } from 'react-router';
import { BUILT_INS, SCRIPT_LANGUAGE, type Stage } from '@hexenkessel/core/stages';
import { emptyChain, withScriptStage, type ChainDocument } from '@hexenkessel/core/chain';
import { useReadScripts } from '../scripts/useReadScripts.ts';
import { StageArticle } from './StageArticle.tsx';

export interface ScriptStage {
  /** Under which its text is opened. */
  readonly id: string;
  readonly stage: Stage;
  readonly chain: ChainDocument;
}

/** The stages of all scripts that are in order, each in a chain of its own; none until they are read. */
export function useScriptStages(): readonly ScriptStage[] {
  const { scripts } = useReadScripts(true);
  return useMemo(
    () =>
      scripts.map(({ id, text }) => {
        const empty = emptyChain(BUILT_INS, 'Reference');
        const { chain, stage } = withScriptStage(BUILT_INS, empty, { language: SCRIPT_LANGUAGE, text });
        const whole = { ...chain, stages: [stage] };
        return { id, stage: BUILT_INS.for(whole).of(stage), chain: whole };
      }),
    [scripts],
  );
}

/** A stage that is written as text; undefined until it is read. */
export function ScriptArticle({ script }: { readonly script: ScriptStage | undefined }) {
  if (!script)
    return <Text color="faded">The scripts are being read; one that is not named on the left is not here.</Text>;
  return (
    <StageArticle
      chain={script.chain}
      beside={
        <Link asChild fontSize="sm" color="copper">
          <RouterLink to={`/script/${script.id}`}>its text</RouterLink>
        </Link>
      }
    />
  );
}
