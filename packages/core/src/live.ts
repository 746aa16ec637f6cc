/** The door for the audio thread: the live engine and nothing that it does not need. */
export * from './heads/contract.ts';
export * from './heads/clip/clip.ts';
export * from './engine/live/deck.ts';
export * from './engine/live/liveEngine.ts';
export * from './engine/live/liveMeters.ts';
export * from './engine/live/meterBoard.ts';
export * from './engine/live/sharedSettings.ts';
