/** Measuring sounds. */
export { peakOf } from '../analysis/level.ts';
export { bestLoopEnd, nearestZero, seamDifference } from '../analysis/loopSeam.ts';
export { integratedLoudness } from '../analysis/loudness.ts';
export { measureClip, measureInSteps, type Measures, MeasureStream } from '../analysis/measure.ts';
export { noteStarts } from '../analysis/noteStarts.ts';
export { OutlineStream, outlineOf, type Outline } from '../analysis/outline.ts';
export { type Overview, overviewOf } from '../analysis/overview.ts';
export { estimateTempo, type TempoEstimate } from '../analysis/tempo.ts';
export { TEST_SIGNALS } from '../signals/testSignals.ts';
