/** The most frames that anything in the engine is ever asked for at once. */
export const BLOCK_FRAMES = 128;
