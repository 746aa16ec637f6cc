import { provideScriptRuntime } from './scriptLanguage.ts';
import { transformClip } from './scriptClip.ts';
import { responsePicture } from './scriptPicture.ts';
import { begunMemory } from './scriptBegin.ts';
import { ScriptProcessor } from './scriptProcessor.ts';

/** Has this thread run scripts from now on that others have read. */
export function playScripts(): void {
  provideScriptRuntime({
    begin: begunMemory,
    create: (prepared, params, context) => new ScriptProcessor(prepared, params, context),
    transform: transformClip,
    picture: responsePicture,
  });
}
