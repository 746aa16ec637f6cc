/** Stages that are written as text: checked and compiled to WebAssembly. A door of its own: it brings a parser along. */
export { type CompiledScript, compileScript } from '../script/compileScript.ts';
export { scriptSteps } from '../script/cost.ts';
export { EXAMPLE_TEXTS } from '../script/exampleTexts.ts';
export { type Place, ScriptError, type ScriptFault } from '../script/faults.ts';
export type { ScriptHeader } from '../script/header.ts';
export { learnScripts, readScript } from '../script/learnScripts.ts';
export { impulsePicture, responsePicture } from '../script/scriptPicture.ts';
export { SCRIPT_WORDS, type ScriptWord } from '../script/scriptWords.ts';
export { type Watched, watchedOver, type WatchedValue } from '../script/watched.ts';
