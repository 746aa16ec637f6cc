/** How thoroughly seeded trials go through their settings: a few each time, many when asked for (`npm run long`). */
export const LONG = process.env['LONG'] === '1';

export const runs = (each: number, whenLong: number): number => (LONG ? whenLong : each);
