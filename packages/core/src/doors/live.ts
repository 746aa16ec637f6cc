/** For the audio thread: the live engine and what it shares with the page. */
export { captureLoop, LiveEngine, type Stretch } from '../engine/live/liveEngine.ts';
export { LiveMeters } from '../engine/live/liveMeters.ts';
export { BOARD, createMeterBoard, stageCostPlace, stagePeakPlace } from '../engine/live/meterBoard.ts';
export { createSharedSettings, SettingsReader, SettingsWriter } from '../engine/live/sharedSettings.ts';
export { HELD, OVERDUE } from '../stages/contract.ts';
export { playScripts } from '../script/playScripts.ts';
