/** A door of its own, `@hexenkessel/core/sheet`: it brings a Markdown parser along that rendering does not need. */
export * from './model.ts';
export * from './behaviour.ts';
export * from './picture.ts';
export * from './notes.ts';
export * from './markdown.ts';
export * from './html.ts';
