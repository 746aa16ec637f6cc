/**
 * The one script of all threads that render, draw and prepare: they have the stages in common, which are far larger than
 * what each does with them, and so are sent once.
 */
import { expose } from 'comlink';
import { renderWork } from '../cascade/renderWork.ts';
import { pictureWork } from '../pictures/pictureWork.ts';
import { prepareWork } from '../playback/prepareWork.ts';
import { withScripts } from './withScripts.ts';
import { scriptWork } from '../scripts/scriptWork.ts';

const work = withScripts({ ...renderWork, ...pictureWork, ...prepareWork, ...scriptWork });
export type Work = typeof work;

expose(work);
