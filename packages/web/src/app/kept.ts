/** What a browser keeps for a page, where it lets it: storage may be denied, full or gone. */

export function readKept(key: string): string | null {
  try {
    return localStorage.getItem(key);
  } catch {
    return null;
  }
}

export function keep(key: string, value: string): void {
  try {
    localStorage.setItem(key, value);
  } catch {
    // It is kept for as long as the page is open, then.
  }
}
