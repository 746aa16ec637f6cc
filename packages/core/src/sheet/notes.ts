import rehypeSanitize from 'rehype-sanitize';
import rehypeStringify from 'rehype-stringify';
import remarkGfm from 'remark-gfm';
import remarkParse from 'remark-parse';
import remarkRehype from 'remark-rehype';
import { unified } from 'unified';

const pipeline = unified().use(remarkParse).use(remarkGfm).use(remarkRehype).use(rehypeSanitize).use(rehypeStringify);

/** A designer's Markdown as HTML in which nothing can run: no scripts, no handlers, no raw HTML. */
export function notesToHtml(markdown: string): string {
  return String(pipeline.processSync(markdown));
}
