import code from '@fontsource-variable/source-code-pro/files/source-code-pro-latin-wght-normal.woff2?url';
import sans from '@fontsource-variable/source-sans-3/files/source-sans-3-latin-wght-normal.woff2?url';
import serif from '@fontsource-variable/source-serif-4/files/source-serif-4-latin-wght-normal.woff2?url';
import { strToU8, zipSync } from 'fflate';
import { SHEET_FONTS, cascadeSvg, fontFace, sheetHtml, sheetMarkdown, type Sheet } from '@hexenkessel/core/sheet';
import { fileTitle, saveFile } from '../files/saveFile.ts';

/** Where the page's own fonts are, by the ends of their names. */
const PLACES = [code, sans, serif];

/** One HTML file with the picture and the fonts in it. */
export async function saveHtml(sheet: Sheet): Promise<void> {
  const faces = await Promise.all(
    SHEET_FONTS.map(async (font) => {
      const name = font.file.slice(font.file.lastIndexOf('/') + 1, -'.woff2'.length);
      const place = PLACES.find((path) => path.includes(name));
      if (place === undefined) throw new Error(`there is no font ${name}`);
      return fontFace(font, await base64Of(place));
    }),
  );
  saveFile(`${sheet.title}.html`, sheetHtml(sheet, faces), 'text/html');
}

/** A ZIP with the Markdown and, beside it, the picture; the Markdown alone where there is no picture. */
export function saveMarkdown(sheet: Sheet): void {
  if (sheet.rows.length === 0) {
    saveFile(`${sheet.title}.md`, sheetMarkdown(sheet), 'text/markdown');
    return;
  }
  const title = fileTitle(sheet.title);
  const files = {
    [`${title}.md`]: strToU8(sheetMarkdown(sheet, `${title}.svg`)),
    [`${title}.svg`]: strToU8(cascadeSvg(sheet.rows, sheet.timing)),
  };
  saveFile(`${sheet.title}, sheet.zip`, zipSync(files), 'application/zip');
}

async function base64Of(path: string): Promise<string> {
  const bytes = await (await fetch(path)).blob();
  return new Promise((resolve, reject) => {
    const reader = new FileReader();
    reader.onload = () => resolve((reader.result as string).replace(/^data:[^,]*,/, ''));
    reader.onerror = () => reject(reader.error ?? new Error('a font cannot be read'));
    reader.readAsDataURL(bytes);
  });
}
