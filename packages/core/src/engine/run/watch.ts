/** How stages are looked after while they run. */
export interface Watch {
  /** Microseconds from any moment on. */
  readonly clock: () => number;
  /** What throws is silenced and told, so that everything else sounds on; else the error goes on to whoever runs it. */
  readonly silencesFaults: boolean;
}

/** No time is taken, and a fault is thrown: as a render needs it. */
export const UNWATCHED: Watch = { clock: () => 0, silencesFaults: false };
