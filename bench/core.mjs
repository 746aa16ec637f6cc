// All that the measurements use of the built core.
export * from '../packages/core/dist/doors/analysis.js';
export * from '../packages/core/dist/doors/chain.js';
export * from '../packages/core/dist/doors/engine.js';
export * from '../packages/core/dist/doors/formats.js';
export * from '../packages/core/dist/doors/live.js';
export * from '../packages/core/dist/doors/model.js';
export * from '../packages/core/dist/doors/stages.js';
export { Section } from '../packages/core/dist/engine/run/section.js';
