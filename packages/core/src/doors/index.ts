/** The whole way in one step; the other doors are for what lies on it. */
export { renderBytes, type RenderBytesOptions } from '../formats/renderBytes.ts';
