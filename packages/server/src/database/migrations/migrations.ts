import type { Knex } from 'knex';
import * as first from './20261124_first.ts';
import * as sounds from './20261126_sounds.ts';
import * as tempo from './20261127_tempo.ts';
import * as store from './20261128_store.ts';
import * as touched from './20261129_touched.ts';
import * as leftOut from './20261130_left_out.ts';
import * as mixes from './20261201_mixes.ts';
import * as attempts from './20261202_attempts.ts';
import * as lists from './20261203_lists.ts';
import * as scripts from './20261204_scripts.ts';
import * as gaveUp from './20261205_gave_up.ts';
import * as desks from './20261125_desks.ts';

/** In their order; what was released stays as it is. */
export const MIGRATIONS: Readonly<Record<string, Knex.Migration>> = {
  '20261124_first': first,
  '20261125_desks': desks,
  '20261126_sounds': sounds,
  '20261127_tempo': tempo,
  '20261128_store': store,
  '20261129_touched': touched,
  '20261130_left_out': leftOut,
  '20261201_mixes': mixes,
  '20261202_attempts': attempts,
  '20261203_lists': lists,
  '20261204_scripts': scripts,
  '20261205_gave_up': gaveUp,
};
