/**
 * Stands for a text where the text itself is not at hand: 64 bits by FNV-1a from two beginnings, and its length. For telling
 * texts apart, not for secrets.
 */
export function textKey(text: string): string {
  let [a, b] = [0x811c9dc5, 0x050c5d1f];
  for (let i = 0; i < text.length; i++) {
    const unit = text.charCodeAt(i);
    a = Math.imul(a ^ unit, 16777619);
    b = Math.imul(b ^ (unit + i), 16777619);
  }
  return [a, b, text.length].map((part) => (part >>> 0).toString(16)).join('-');
}
