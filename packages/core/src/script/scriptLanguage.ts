import type { StageLanguage } from '../stages/language.ts';
import type { CompiledScript } from './compileScript.ts';
import type { ScriptRuntime } from './scriptRuntime.ts';
import { scriptStage, type ScriptSaid } from './scriptStage.ts';

/** What the language is called in chain documents. */
export const SCRIPT_LANGUAGE = 'hexenkessel';
/** The rate at which a script is read: at others it takes less memory. */
const READING_RATE = 192_000;

/** Compiles a text for a sample rate. ScriptError for what is not allowed. */
export type ScriptCompiler = (text: string, sampleRate: number) => CompiledScript;

let compiler: ScriptCompiler | undefined;
let runtime: ScriptRuntime | undefined;

/**
 * Has this thread read scripts from now on. The compiler is handed in, so that a thread that only plays, and a page until a
 * chain brings a script, need not carry it.
 */
export function provideScriptCompiler(compile: ScriptCompiler): void {
  compiler = compile;
}

/** Has this thread run scripts from now on. */
export function provideScriptRuntime(runs: ScriptRuntime): void {
  runtime = runs;
}

function running(): ScriptRuntime {
  if (!runtime) throw new Error('this thread does not run scripts');
  return runtime;
}

function compile(text: string, sampleRate: number): CompiledScript {
  if (!compiler) throw new Error('this thread has no compiler for scripts');
  return compiler(text, sampleRate);
}

/** Stages that are written as text. */
export const SCRIPTS: StageLanguage = {
  name: SCRIPT_LANGUAGE,
  read(source): ScriptSaid {
    const { header, form } = compile(source, READING_RATE);
    const { bytes: _, ...facts } = form;
    return { header, facts };
  },
  stage: (said, source) =>
    scriptStage(
      said as ScriptSaid,
      (sampleRate) => {
        if (source === undefined) throw new Error('the text of the script is not here');
        return compile(source, sampleRate).form;
      },
      running,
    ),
};
