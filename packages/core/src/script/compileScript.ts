import { compileForm, type CompiledForm } from './compileForm.ts';
import { readHeader, type ScriptHeader } from './header.ts';
import { parseScript } from './parse.ts';

/** A script that may be run: what it says of itself, and what it works with. */
export interface CompiledScript {
  readonly header: ScriptHeader;
  readonly form: CompiledForm;
}

/** Compiles a script for a sample rate. ScriptError for what is not allowed, with places in the text. */
export function compileScript(text: string, sampleRate: number): CompiledScript {
  const program = parseScript(text);
  const header = readHeader(program);
  return { header, form: compileForm(program, header.params, sampleRate) };
}
