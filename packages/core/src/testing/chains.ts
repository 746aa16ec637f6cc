import { BUILT_INS } from '../catalogue/builtIns.ts';
import type { ChainDocument } from '../chain/schema.ts';
import { parseChain } from '../chain/validate.ts';
import { finishRender, renderChain } from '../engine/offline/renderer.ts';
import type { Clip } from '../model/clip.ts';
import { TRIAL_BANK } from './trialSounds.ts';

interface Draft {
  readonly kind: string;
  readonly [key: string]: unknown;
}

/** A chain of stages named after their kinds: hall, hall2 … */
export function chainOf(stages: readonly Draft[], rest: Record<string, unknown> = {}): ChainDocument {
  const seen = new Map<string, number>();
  return parseChain(BUILT_INS, {
    format: 'hexenkessel.chain',
    version: 1,
    name: 'Test',
    stages: stages.map((stage) => {
      const n = (seen.get(stage.kind) ?? 0) + 1;
      seen.set(stage.kind, n);
      return { id: n === 1 ? stage.kind : `${stage.kind}${n}`, ...stage };
    }),
    render: { tail: { mode: 'none' } },
    ...rest,
  });
}

/** Renders; what stages name is looked for among the trial sounds. */
export function renderOf(chain: ChainDocument, source: Clip): Clip {
  return finishRender(renderChain(BUILT_INS, { chain, source, sounds: TRIAL_BANK }));
}

/** A chain as JSON with one piece of its text replaced, parsed again by hand. */
export function editedText(chain: ChainDocument, from: string, to: string): unknown {
  const text = JSON.stringify(chain);
  if (text.split(from).length !== 2)
    throw new Error(`"${from}" stands ${text.split(from).length - 1} times in the chain`);
  return JSON.parse(text.replace(from, to));
}
