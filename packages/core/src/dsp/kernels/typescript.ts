import { Convolver, partImpulse } from '../convolver.ts';
import { FeedbackDelayNetwork } from '../network/feedbackDelayNetwork.ts';
import { Oversampler } from '../oversampler.ts';
import { RealFft } from '../realFft.ts';
import { resample } from '../resample.ts';
import type { Kernels } from './contract.ts';

/** All of them in TypeScript. Their memory never grows. */
export const TYPESCRIPT_KERNELS: Kernels = {
  transform: (size) => new RealFft(size),
  oversampler: (factor, maxFrames, inside) => new Oversampler(factor, maxFrames, inside),
  network: (sampleRate, maxSize, random) => new FeedbackDelayNetwork(sampleRate, maxSize, random),
  resample,
  partImpulse,
  convolver: (parts) => new Convolver(parts),
};
