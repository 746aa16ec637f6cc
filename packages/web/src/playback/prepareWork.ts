/** Done in a thread: works out what stages need before they run, so that neither the page nor the audio thread waits for it. */
import { BUILT_INS } from '@hexenkessel/core/stages';
import { prepareStage, type Preparable } from '@hexenkessel/core/engine';

export const prepareWork = {
  prepareStage: (stage: Preparable, sampleRate: number) => prepareStage(BUILT_INS, stage, sampleRate),
};
