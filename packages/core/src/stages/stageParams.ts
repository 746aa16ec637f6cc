import { level, ratio } from '../params/params.ts';

/** What every stage has beside its own parameters. */
export const STAGE_PARAMS = {
  mix: ratio({
    label: 'dry/wet mix',
    default: 1,
    doc: 'How much of the processed sound is heard: at 0 % none, at 100 % nothing else.',
  }),
  level: level({ label: 'output level', default: 0, min: -96, max: 24, doc: 'The level after the dry/wet mix.' }),
};
