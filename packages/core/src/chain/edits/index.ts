/** Every step that is done to a chain, with the name that undo gives it. */
export * from './branchEdits.ts';
export { replaceChain, type ChainEdit } from './chainEdit.ts';
export * from './chainEdits.ts';
export * from './laneEdits.ts';
export * from './modulationEdits.ts';
export * from './panelEdits.ts';
export * from './scriptEdits.ts';
export * from './settingEdits.ts';
export * from './stageEdits.ts';
