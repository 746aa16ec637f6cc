import rehypeSanitize from 'rehype-sanitize';
import rehypeStringify from 'rehype-stringify';
import remarkGfm from 'remark-gfm';
import remarkParse from 'remark-parse';
import remarkRehype from 'remark-rehype';
import { unified } from 'unified';
import { visit } from 'unist-util-visit';

const reader = unified().use(remarkParse).use(remarkGfm);
const writer = unified().use(remarkParse).use(remarkGfm).use(remarkRehype).use(rehypeSanitize).use(rehypeStringify);

/**
 * A designer's Markdown without what fetches something when it is shown, which would tell somebody that it is: images, which
 * become their texts, and raw HTML, which goes.
 */
export function quietNotes(markdown: string): string {
  const cuts: { readonly from: number; readonly to: number; readonly instead: string }[] = [];
  visit(reader.parse(markdown), (node) => {
    if (node.type !== 'image' && node.type !== 'imageReference' && node.type !== 'html') return;
    const { start, end } = node.position!;
    cuts.push({ from: start.offset!, to: end.offset!, instead: node.type === 'html' ? '' : (node.alt ?? '') });
  });
  return cuts.reduceRight((text, { from, to, instead }) => text.slice(0, from) + instead + text.slice(to), markdown);
}

/** A designer's Markdown as HTML in which nothing can run and nothing is fetched: no scripts, handlers, images, raw HTML. */
export function notesToHtml(markdown: string): string {
  return String(writer.processSync(quietNotes(markdown)));
}
