/** The text of the functions, as a script would have them. */
export function mathSource(): string;
