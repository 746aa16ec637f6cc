/** Which stages and heads there are: those that are built in, and those that a chain brings with it. */
import type { Kernels } from '../dsp/kernels/contract.ts';
import { TYPESCRIPT_KERNELS } from '../dsp/kernels/typescript.ts';
import { InputError, shortened } from '../model/errors.ts';
import type { Head } from '../heads/contract.ts';
import { textKey } from '../model/textKey.ts';
import type { Stage } from '../stages/contract.ts';
import { SCRIPT_KIND, type StageLanguage } from '../stages/language.ts';

/** What a stage is made from that is not built in. Plain data: a plan takes it along to another thread. */
export interface Definition {
  readonly language: string;
  /** The same for the same source alone. */
  readonly key: string;
  /** What was read from the source. */
  readonly said: unknown;
  /** Left out on the way to a thread that only plays. */
  readonly source?: string;
}

/** A script of a chain, under the id that its stages name. */
export interface Script {
  readonly id: string;
  readonly language: string;
  readonly text: string;
}

/** Which stage is meant: one that is built in by its kind, another by the script it names or by its definition itself. */
export interface NamedStage {
  readonly kind: string;
  readonly script?: string | undefined;
  readonly definition?: Definition | undefined;
}

/** How many stages made from scripts are kept. */
const KEPT = 400;

/** What a catalogue is made of. */
export interface Contents {
  /** Those that are built in, in the order in which they are shown. */
  readonly stages: readonly Stage[];
  readonly heads: readonly Head[];
  readonly languages?: readonly StageLanguage[];
  /** How the hot loops are done; in TypeScript when left out. */
  readonly kernels?: Kernels;
}

/**
 * The stages and heads that a thread knows. Handed in wherever a stage is looked up: a thread decides by it which code it holds, and
 * a chain adds its own scripts to it.
 */
export class Catalogue {
  private readonly contents: Contents;
  private readonly byKind: ReadonlyMap<string, Stage>;
  private readonly scripts: readonly Script[];
  /** What has been read and made from scripts. */
  private readonly made: MadeFromScripts;
  /** Catalogues for chains, by their scripts. */
  private readonly bound = new WeakMap<readonly Script[], Catalogue>();

  constructor(contents: Contents, own?: { readonly scripts: readonly Script[]; readonly made: MadeFromScripts }) {
    this.contents = contents;
    this.byKind = new Map(contents.stages.map((stage) => [stage.kind, stage]));
    this.scripts = own?.scripts ?? [];
    this.made = own?.made ?? new MadeFromScripts(contents.languages ?? []);
  }

  /** How the hot loops are done. */
  get kernels(): Kernels {
    return this.contents.kernels ?? TYPESCRIPT_KERNELS;
  }

  /** The catalogue for a chain: with the scripts that its stages name. */
  for({ scripts }: { readonly scripts: readonly Script[] }): Catalogue {
    if (scripts === this.scripts || (scripts.length === 0 && this.scripts.length === 0)) return this;
    const known = this.bound.get(scripts);
    if (known) return known;
    const made = new Catalogue(this.contents, { scripts, made: this.made });
    this.bound.set(scripts, made);
    return made;
  }

  /** The same with more stages: those that a run makes for itself. */
  with(stages: readonly Stage[]): Catalogue {
    const contents = { ...this.contents, stages: [...this.contents.stages, ...stages] };
    return new Catalogue(contents, { scripts: this.scripts, made: this.made });
  }

  /** All that can be added to a chain, in the order in which they are shown: those built in, then those of its scripts. */
  get stages(): readonly Stage[] {
    const { stages } = this.contents;
    if (this.scripts.length === 0) return stages;
    const own = this.scripts.map(({ id }): NamedStage => ({ kind: SCRIPT_KIND, script: id }));
    return [...stages, ...own.filter((named) => this.knows(named)).map((named) => this.of(named))];
  }

  /** How a stage of `stages` is named in a document. */
  nameOf(stage: Stage): NamedStage {
    if (this.byKind.get(stage.kind) === stage) return { kind: stage.kind };
    const script = this.scripts.find(({ id }) => {
      const named = { kind: SCRIPT_KIND, script: id };
      return this.knows(named) && this.of(named) === stage;
    });
    if (!script) throw new InputError(`"${stage.title}" is not among the stages that are known here.`);
    return { kind: SCRIPT_KIND, script: script.id };
  }

  /** The stage that is meant. InputError when there is none, or when its script is none. */
  of(reference: NamedStage): Stage {
    const stage = this.byKind.get(reference.kind);
    if (stage) return stage;
    if (reference.kind === SCRIPT_KIND) return this.made.stage(this.definitionOf(reference) as Definition);
    throw new InputError(
      `There is no stage of kind "${shortened(reference.kind)}". Known kinds: ${[...this.byKind.keys()].join(', ')}.`,
    );
  }

  knows(reference: NamedStage): boolean {
    try {
      return this.of(reference) !== undefined;
    } catch (error) {
      if (error instanceof InputError) return false;
      throw error;
    }
  }

  /** What a stage that is not built in is made from; undefined for one that is. InputError when its script is not there. */
  definitionOf({ kind, script, definition }: NamedStage): Definition | undefined {
    if (kind !== SCRIPT_KIND) return undefined;
    if (definition) return definition;
    const found = this.scripts.find(({ id }) => id === script);
    if (found) return this.made.definition(found.language, found.text);
    const there = this.scripts.map(({ id }) => id).join(', ') || 'none';
    throw new InputError(
      script === undefined
        ? `It names no script; the chain has ${there}.`
        : `There is no script "${shortened(script)}" in the chain; it has ${there}.`,
    );
  }

  /** Takes over what another thread has read from a source, so that it need not be read here. */
  take(language: string, source: string, said: unknown): void {
    this.made.take(language, source, said);
  }

  /** The head of that kind. InputError when there is none. */
  headOf({ kind }: { readonly kind: string }): Head {
    const { heads } = this.contents;
    const head = heads.find((one) => one.kind === kind);
    if (head) return head;
    const there = heads.map((one) => one.kind).join(', ');
    throw new InputError(`There is no head of kind "${shortened(kind)}". Known kinds: ${there}.`);
  }
}

/** Definitions and stages of scripts, each made once. */
class MadeFromScripts {
  private readonly languages: readonly StageLanguage[];
  private readonly definitions = new Map<string, Definition>();
  private readonly stages = new Map<string, Stage>();

  constructor(languages: readonly StageLanguage[]) {
    this.languages = languages;
  }

  definition(language: string, source: string): Definition {
    return this.defined(language, source, () => this.language(language).read(source));
  }

  take(language: string, source: string, said: unknown): void {
    this.defined(language, source, () => said);
  }

  private defined(language: string, source: string, read: () => unknown): Definition {
    return kept(this.definitions, `${language}\n${source}`, () => ({
      language,
      key: textKey(source),
      said: read(),
      source,
    }));
  }

  stage({ language, key, said, source }: Definition): Stage {
    return kept(this.stages, `${language}\n${key}`, () => this.language(language).stage(said, source));
  }

  private language(name: string): StageLanguage {
    const found = this.languages.find((language) => language.name === name);
    if (found) return found;
    const there = this.languages.map((language) => language.name).join(', ') || 'none';
    throw new InputError(`There is no language "${shortened(name)}" for scripts; there are ${there}.`);
  }
}

/** What stands under a key, made where it does not; the one that was not asked for longest goes. */
function kept<T>(all: Map<string, T>, key: string, make: () => T): T {
  const found = all.get(key) ?? make();
  all.delete(key);
  all.set(key, found);
  if (all.size > KEPT) all.delete(all.keys().next().value as string);
  return found;
}
