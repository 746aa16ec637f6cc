import type { Render } from '@hexenkessel/core/protocol';

/** Which renders are asked for: of a chain and a sound by their ids, done or not. */
export interface RendersAsked {
  readonly chain?: string;
  readonly source?: string;
  readonly done?: boolean;
}

/** Whether a render belongs to what is asked for. */
export function isAskedFor({ chain, source, done }: RendersAsked) {
  return ({ chainId, sourceId, status }: Render): boolean =>
    (chain === undefined || chainId === chain) &&
    (source === undefined || sourceId === source) &&
    (done === undefined || (status === 'done') === done);
}

/** True when nothing about it changes any more. */
export function isOver({ status }: Pick<Render, 'status'>): boolean {
  return status !== 'queued' && status !== 'running';
}

/**
 * A list of renders as the server gave it, over what is known. News of a render may have overtaken a list that was read
 * before it: what is known to be over does not go back to running.
 */
export function knownRenders(known: readonly Render[], list: readonly Render[]): Render[] {
  const over = new Map(known.filter(isOver).map((render) => [render.id, render]));
  return list.map((render) => (isOver(render) ? render : (over.get(render.id) ?? render)));
}

/** The list with news of one render; what is new stands first. */
export function withNews(known: readonly Render[], changed: Render): Render[] {
  const there = known.some(({ id }) => id === changed.id);
  return there ? known.map((render) => (render.id === changed.id ? changed : render)) : [changed, ...known];
}
