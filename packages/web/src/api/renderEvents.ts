import type { Render } from '@hexenkessel/core/protocol';

const NAME = 'hexenkessel.renders';

/** What is told among the pages of a browser: a render as it is now, or that something may have been missed. */
type News = { readonly render: Render } | 'connected';

interface Listener {
  readonly onRender: (render: Render) => void;
  /** The connection is there, for the first time or after a pause. */
  readonly onConnected: () => void;
}

/**
 * What the server says of renders, over one connection for all pages of a browser, which opens no more than six to a server:
 * the page that holds the lock listens for all, and when it goes the next one does. Gives a function that ends it.
 */
export function followRenders({ onRender, onConnected }: Listener): () => void {
  const channel = new BroadcastChannel(NAME);
  const ended = new AbortController();
  const take = (news: News) => (news === 'connected' ? onConnected() : onRender(news.render));
  const tell = (news: News) => {
    take(news);
    channel.postMessage(news);
  };
  const lead = () =>
    new Promise<void>((resolve) => {
      const events = new EventSource('/api/renders/events');
      events.addEventListener('render', ({ data }: MessageEvent<string>) =>
        tell({ render: JSON.parse(data) as Render }),
      );
      events.addEventListener('open', () => tell('connected'));
      ended.signal.addEventListener('abort', () => {
        events.close();
        resolve();
      });
    });
  channel.onmessage = ({ data }: MessageEvent<News>) => take(data);
  // Its promise is broken when it is ended while it waits for the lock.
  navigator.locks.request(NAME, { signal: ended.signal }, lead).catch(() => undefined);
  return () => {
    ended.abort();
    channel.close();
  };
}
