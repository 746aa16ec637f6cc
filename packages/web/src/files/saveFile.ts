/** Milliseconds after which the browser has surely taken it. */
const TAKEN = 10_000;

/** A name without what no file may be called. */
export const fileTitle = (name: string): string => name.replace(/[/\\<>:"|?*]/g, '-');

/** Hands a text or bytes out as a file; what no file may be called is replaced in its name. */
export function saveFile(name: string, content: string | Uint8Array<ArrayBuffer>, type: string): void {
  const href = URL.createObjectURL(new Blob([content], { type }));
  Object.assign(document.createElement('a'), { href, download: fileTitle(name) }).click();
  setTimeout(() => URL.revokeObjectURL(href), TAKEN);
}
