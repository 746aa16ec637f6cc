import type { Random } from '../dsp/random.ts';
import type { Clip, Span } from '../model/clip.ts';
import type { StagePicture } from '../model/picture.ts';
import type { Params } from '../params/params.ts';
import type { ClipWork, LiveContext, LiveProcessor, LiveStage, ResolvedValues } from '../stages/contract.ts';
import type { FormFacts } from './compileForm.ts';
import type { ScriptHeader } from './header.ts';

/** What a script has to run by. */
export interface PreparedScript {
  /** Left out on the way to a thread that cannot be sent any. */
  readonly module?: WebAssembly.Module | undefined;
  readonly bytes: Uint8Array<ArrayBuffer>;
  readonly facts: FormFacts;
  /** What the memory of its sides holds, from the base of the first on, once it was made ready, where that takes long and is the same each time. */
  readonly begun?: Uint8Array<ArrayBuffer> | undefined;
}

/** What runs scripts and draws them. A page that only shows their settings need not carry it. */
export interface ScriptRuntime {
  /** See `PreparedScript.begun`; undefined where it is as well made ready when it is created. */
  begin(prepared: PreparedScript): Uint8Array<ArrayBuffer> | undefined;
  create(prepared: PreparedScript, params: Params, context: LiveContext): LiveProcessor<Params>;
  transform(
    prepared: PreparedScript,
    header: ScriptHeader,
    clip: Clip,
    values: ResolvedValues<Params>,
    context: { readonly span: Span; readonly random: Random },
  ): ClipWork;
  picture(stage: LiveStage, values: ResolvedValues<Params>): StagePicture;
}
