/** Runs in the browser's audio thread: the live engine with the stages that are built in. */
import { BUILT_INS } from '@hexenkessel/core/stages';
import { playScripts } from '@hexenkessel/core/live';
import { registerEngine } from './engineProcessor.ts';

playScripts();

registerEngine(BUILT_INS);
