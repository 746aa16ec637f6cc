/** The sheet of a chain. A door of its own: it brings a Markdown parser along that rendering does not need. */
export type { SheetControl, SheetModulator } from '../sheet/behaviour.ts';
export { fontFace, SHEET_FONTS, type SheetFont } from '../sheet/fonts.ts';
export { sheetHtml } from '../sheet/html.ts';
export { sheetMarkdown } from '../sheet/markdown.ts';
export { renderSentence, type Sheet, type SheetRow, type SheetStage, sheetOf, sheetRows } from '../sheet/model.ts';
export { notesToHtml } from '../sheet/notes.ts';
export { cascadeSvg } from '../sheet/picture.ts';
