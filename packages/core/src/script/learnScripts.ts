import { compileScript } from './compileScript.ts';
import { playScripts } from './playScripts.ts';
import { provideScriptCompiler, SCRIPTS } from './scriptLanguage.ts';

/** Has this thread read and run scripts from now on. */
export function learnScripts(): void {
  provideScriptCompiler(compileScript);
  playScripts();
}

/** What a script says, as plain data that a thread which reads none can take (`Catalogue.take`). ScriptError for what is none. */
export const readScript = (text: string): unknown => SCRIPTS.read(text);
