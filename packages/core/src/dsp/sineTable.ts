import { TAU, sin } from './portableMath.ts';

/** Points of one turn. */
export const SINE_POINTS = 4096;

/** One turn of a sine and its first point again; read in straight lines it is true to −125 dB. */
export const SINE = Float64Array.from({ length: SINE_POINTS + 1 }, (_, i) =>
  sin((TAU * (i % SINE_POINTS)) / SINE_POINTS),
);
