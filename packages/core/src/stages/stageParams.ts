import { level, ratio } from '../params/params.ts';

/** What every stage has beside its own parameters. */
export const STAGE_PARAMS = {
  mix: ratio({ default: 1, doc: 'How much of the processed sound is heard: at 0 % none, at 100 % nothing else.' }),
  level: level({ default: 0, min: -96, max: 24, doc: 'The level behind the mix.' }),
};
