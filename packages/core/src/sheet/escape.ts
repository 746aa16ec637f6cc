const NAMES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' };

/** Text made safe between tags and in quoted attributes. */
export function escapeHtml(text: string): string {
  return text.replace(/[&<>"']/g, (character) => NAMES[character]);
}
