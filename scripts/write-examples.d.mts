/** The scripts that ship, by their names, as their files have them. */
export function exampleTexts(): Record<string, string>;
