/**
 * Has the page read scripts, where a text brings some. What reads them is sent once it is needed: few chains have any.
 */
export async function readyFor(text: string): Promise<void> {
  if (text.includes('"language"')) await learn();
}

/** What reads scripts, once it is there. */
export async function learn(): Promise<typeof import('@hexenkessel/core/script')> {
  const door = await import('@hexenkessel/core/script');
  door.learnScripts();
  return door;
}
