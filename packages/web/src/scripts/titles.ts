/** Where a text says its title: what stands before it, and the title in its quotes. */
const TITLE = /(export\s+const\s+title\s*=\s*)('(?:[^'\\]|\\.)*'|"(?:[^"\\]|\\.)*")/;

/** The title that a text says it has; empty where it says none. */
export const titleIn = (text: string) => TITLE.exec(text)?.[2].slice(1, -1).replace(/\\(.)/g, '$1') ?? '';

/** The text with that title, or with a number behind it where that one is taken. */
export function underFreeTitle(text: string, wanted: string, taken: ReadonlySet<string>): string {
  let title = wanted;
  for (let n = 2; taken.has(title); n++) title = `${wanted} ${n}`;
  if (title === titleIn(text)) return text;
  const written = `'${title.replace(/['\\]/g, '\\$&')}'`;
  return text.replace(TITLE, (_, before: string) => before + written);
}
