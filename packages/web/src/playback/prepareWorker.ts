/** Works out what stages need before they run, so that neither the page nor the audio thread waits for it. */
import { prepareStage } from '@hexenkessel/core';
import { expose } from 'comlink';

const worker = { prepareStage };
export type PrepareWorker = typeof worker;

expose(worker);
