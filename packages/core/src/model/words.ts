/** `'jet, sweep, comb filter'` → the words of a list, which reads better so than in quotes each. */
export const words = (list: string): readonly string[] => list.split(', ');
