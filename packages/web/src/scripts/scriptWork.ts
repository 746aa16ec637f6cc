/** Done in a thread: looks at scripts while they are typed. */
import type { Clip, Timing } from '@hexenkessel/core/model';
import { BUILT_INS, SCRIPT_KIND, SCRIPT_LANGUAGE, resolvedValues, type StagePicture } from '@hexenkessel/core/stages';
import type { StageDocument } from '@hexenkessel/core/chain';
import type { ScriptFault, Watched } from '@hexenkessel/core/script';
import { prepareAhead } from '../playback/prepareWork.ts';

/** Fetched by who works with scripts only. */
async function scriptDoor() {
  const door = await import('@hexenkessel/core/script');
  door.learnScripts();
  return door;
}

/** How a text stands: what is wrong with it, or what it takes. */
export interface CheckedScript {
  /** What it says, for a thread that does not read it; undefined where something is wrong. */
  readonly said: unknown;
  readonly faults: readonly ScriptFault[];
  /** Milliseconds it took to compile. */
  readonly took: number;
}

const known = (text: string) => BUILT_INS.for({ scripts: [{ id: 'script', language: SCRIPT_LANGUAGE, text }] });
const named = (stage: StageDocument): StageDocument => ({ ...stage, kind: SCRIPT_KIND, script: 'script' });

export const scriptWork = {
  async checkScript(text: string): Promise<CheckedScript> {
    const { ScriptError, readScript } = await scriptDoor();
    const began = performance.now();
    try {
      const said = readScript(text);
      // Behind the answer: what is asked for next is ready by then.
      setTimeout(() => prepareAhead(text));
      return { said, faults: [], took: performance.now() - began };
    } catch (error) {
      if (!(error instanceof ScriptError)) throw error;
      return { said: undefined, faults: error.places, took: performance.now() - began };
    }
  },

  /** What scripts say, in their order; undefined for one that is not in order. */
  async readScripts(texts: readonly string[]): Promise<readonly unknown[]> {
    const { ScriptError, readScript } = await scriptDoor();
    return texts.map((text) => {
      try {
        return readScript(text);
      } catch (error) {
        if (error instanceof ScriptError) return undefined;
        throw error;
      }
    });
  },

  /** The texts of the scripts that ship, by their names. */
  async exampleTexts(): Promise<Readonly<Record<string, string>>> {
    return (await scriptDoor()).EXAMPLE_TEXTS;
  },

  /** What a click becomes, and the frequency response. */
  async scriptPictures(text: string, stage: StageDocument, timing: Timing): Promise<readonly StagePicture[]> {
    const { impulsePicture, responsePicture } = await scriptDoor();
    const catalogue = known(text);
    const definition = catalogue.of(named(stage));
    if (definition.runs !== 'live') return [];
    const values = resolvedValues(catalogue, named(stage), timing);
    return [impulsePicture(definition, values), responsePicture(definition, values)];
  },

  async watchScript(text: string, stage: StageDocument, timing: Timing, clip: Clip, columns: number): Promise<Watched> {
    const { watchedOver } = await scriptDoor();
    const values = resolvedValues(known(text), named(stage), timing, clip.sampleRate);
    return watchedOver(text, values, clip, columns, timing.tempo);
  },
};
