/** Milliseconds after which the browser has surely taken it. */
const TAKEN = 10_000;

/** Hands a text out as a file; what no file may be called is replaced in its name. */
export function saveFile(name: string, text: string, type: string): void {
  const href = URL.createObjectURL(new Blob([text], { type }));
  const download = name.replace(/[/\\<>:"|?*]/g, '-');
  Object.assign(document.createElement('a'), { href, download }).click();
  setTimeout(() => URL.revokeObjectURL(href), TAKEN);
}
