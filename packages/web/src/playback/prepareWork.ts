/** Done in a thread: works out what stages need before they run, so that neither the page nor the audio thread waits for it. */
import { BUILT_INS, SCRIPT_KIND, SCRIPT_LANGUAGE } from '@hexenkessel/core/stages';
import { prepareStage, type Preparable } from '@hexenkessel/core/engine';

/** The rate at which stages were asked for last. */
let latestRate: number | undefined;

export const prepareWork = {
  prepareStage(stage: Preparable, sampleRate: number) {
    latestRate = sampleRate;
    return prepareStage(BUILT_INS, stage, sampleRate);
  },
};

/** Compiles a script as it is about to be asked for, at the rate of what was played last. */
export function prepareAhead(text: string): void {
  if (latestRate === undefined) return;
  const definition = BUILT_INS.for({ scripts: [{ id: 'script', language: SCRIPT_LANGUAGE, text }] }).definitionOf({
    kind: SCRIPT_KIND,
    script: 'script',
  });
  try {
    prepareStage(BUILT_INS, { kind: SCRIPT_KIND, definition, sounds: {}, values: {} }, latestRate);
  } catch {
    // Told when it is asked for.
  }
}
