/** A typeface that a sheet brings along, so that it looks the same where it is not installed. */
export interface SheetFont {
  readonly family: string;
  /** Where its file is: a path within npm's packages. WOFF2, the Latin part, of all weights. */
  readonly file: string;
  /** Of the weights in the file, from the lightest to the heaviest. */
  readonly weights: string;
}

const latin = (name: string) => `@fontsource-variable/${name}/files/${name}-latin-wght-normal.woff2`;

/** Those of the application; all under the SIL Open Font License. */
export const SHEET_FONTS: readonly SheetFont[] = [
  { family: 'Source Sans 3', file: latin('source-sans-3'), weights: '200 900' },
  { family: 'Source Serif 4', file: latin('source-serif-4'), weights: '200 900' },
  { family: 'Source Code Pro', file: latin('source-code-pro'), weights: '200 900' },
];

/** The style rule that holds a font within a file; `base64`: its file. */
export function fontFace({ family, weights }: SheetFont, base64: string): string {
  return `@font-face{font-family:"${family}";font-weight:${weights};src:url(data:font/woff2;base64,${base64}) format("woff2")}`;
}
