/** Sounds that stages use beside the one that runs through them: impulse responses, carriers, beds, side inputs. */
import type { Catalogue } from '../../catalogue/catalogue.ts';
import { allStages } from '../../chain/branches.ts';
import type { ChainDocument, StageDocument } from '../../chain/schema.ts';
import { modulatorTitle } from '../../chain/targets.ts';
import { modulatorOf } from '../../modulation/modulators/index.ts';
import { labelOf, type Params, type SoundRef } from '../../params/params.ts';
import type { Clip } from '../../model/clip.ts';

/** A sound that was found, and what stands for its content. */
export interface FoundSound {
  readonly sha256: string;
  readonly clip: Clip;
}

/** Finds a sound by what a chain says of it; undefined when it is not there. */
export type SoundBank = (ref: SoundRef) => FoundSound | undefined;

export const NO_SOUNDS: SoundBank = () => undefined;

/** A stage's or modulator's use of a sound. */
export interface SoundUse {
  /** What it goes by. */
  readonly owner: string;
  readonly id: string;
  /** The parameter's name on its row. */
  readonly label: string;
  readonly ref: SoundRef;
}

/** The sounds that the stages and modulators of a chain use, switched on or not. */
export function soundUses(catalogue: Catalogue, chain: ChainDocument): SoundUse[] {
  const known = catalogue.for(chain);
  const inStages = allStages(chain.stages).flatMap(({ stage }) =>
    usesIn(stage, stage.name || known.of(stage).title, known.of(stage).params),
  );
  const inModulators = chain.modulators.flatMap((modulator) =>
    usesIn(modulator, modulatorTitle(modulator), modulatorOf(modulator.kind).params),
  );
  return [...inStages, ...inModulators];
}

function usesIn(
  { id, settings }: { readonly id: string; readonly settings: StageDocument['settings'] },
  owner: string,
  params: Params,
): SoundUse[] {
  return Object.entries(params).flatMap(([key, param]) => {
    const ref = settings[key];
    if (param.type !== 'sound' || (ref as SoundRef).sound === '') return [];
    return [{ owner, id, label: labelOf(key, param), ref: ref as SoundRef }];
  });
}

/** True when a sound of this name and content is what a chain means: the content counts, the name where none is said. */
export function isMeant(ref: SoundRef, sound: { readonly name: string; readonly sha256: string }): boolean {
  return ref.sha256 === undefined ? ref.sound === sound.name : ref.sha256 === sound.sha256;
}

/** A bank of what has been loaded already. */
export function bankOf(sounds: readonly (FoundSound & { readonly name: string })[]): SoundBank {
  return (ref) => sounds.find((sound) => isMeant(ref, sound));
}

/** What a stage does without a sound that it names or needs, in a few words for its row; undefined when it has all. */
export function soundFault(
  catalogue: Catalogue,
  stage: StageDocument,
  isThere: (ref: SoundRef) => boolean,
): string | undefined {
  for (const [key, param] of Object.entries(catalogue.of(stage).params)) {
    if (param.type !== 'sound') continue;
    const ref = stage.settings[key] as SoundRef;
    const label = labelOf(key, param);
    const { without = 'passes the dry signal', needed } = param;
    if (ref.sound !== '' && !isThere(ref)) return `${label} “${ref.sound}” is missing: ${without}`;
    if (ref.sound === '' && (needed?.(stage.settings) ?? true)) return `no ${label} chosen: ${without}`;
  }
  return undefined;
}
