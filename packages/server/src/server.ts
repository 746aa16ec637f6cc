import { createServer, type RequestListener, type Server } from 'node:http';
import { createServer as createSecureServer } from 'node:https';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import type { Logger } from 'pino';
import { createApp, createServices, type Services } from './app.ts';
import type { Config } from './config.ts';
import { DataFolder } from './store/dataFolder.ts';
import { placeStaged } from './store/restore.ts';
import { startFault } from './store/startFault.ts';
import { VERSION } from './store/version.ts';
import { connectDatabase } from './database/connect.ts';

/** Milliseconds in which the headers of a request have to be there, and all of it: 4 GiB over a slow line take their time. */
const HEADERS_TIMEOUT = 20_000;
const REQUEST_TIMEOUT = 2 * 3600_000;

export interface RunningServer {
  readonly address: string;
  readonly services: Services;
  /** Finishes what is being answered, stops the jobs, closes the database and lets go of the data folder. */
  close(): Promise<void>;
}

/**
 * Takes hold of the data folder, opens and migrates the database, takes up jobs and listens. `prepare` runs before the
 * first request is answered. StartFault when the folder cannot be used; what was opened by then is closed again.
 */
export async function startServer(
  config: Config,
  log: Logger,
  prepare?: (services: Services) => Promise<void>,
): Promise<RunningServer> {
  const folder = await DataFolder.open(config.dataFolder);
  const opened: (() => Promise<unknown>)[] = [() => folder.close()];
  const closeAll = async () => {
    while (opened.length > 0) await opened.pop()?.();
  };
  try {
    await placeStaged(folder.path);
    const database = await connectDatabase(join(folder.path, 'hexenkessel.sqlite'));
    opened.push(() => database.destroy());
    const services = createServices(config, database, log);
    opened.push(() => Promise.all([services.workers.close(), services.processes.close()]));
    await services.files.open();
    await services.reserve.hold();
    await services.files.layOrphansAside(await services.sounds.hashes());
    await prepare?.(services);
    const caughtUp = catchUp(services, log);
    opened.push(() => caughtUp);
    const server = await listen(createApp(config, services, log).callback(), config);
    opened.push(() => stopListening(server, services));
    await services.jobs.open();
    const { port } = server.address() as AddressInfo;
    const address = `${config.tls ? 'https' : 'http'}://${config.host.includes(':') ? `[${config.host}]` : config.host}:${port}`;
    await folder.tell(address);
    return { address, services, close: closeAll };
  } catch (error) {
    await closeAll();
    throw startFault(folder.path, error);
  }
}

/** Another version of this program may call stages otherwise: what lists show is read anew, behind what is asked for. */
async function catchUp({ index, state }: Services, log: Logger): Promise<void> {
  try {
    if ((await state.indexedBy()) !== VERSION) {
      await index.forget();
      await state.setIndexedBy(VERSION);
    }
    await index.refresh();
  } catch (error) {
    // The next list tries it again, and tells whoever asks.
    log.error({ err: error }, 'chains could not be read for lists');
  }
}

function listen(handler: RequestListener, config: Config): Promise<Server> {
  return new Promise((resolve, reject) => {
    const timeouts = { headersTimeout: HEADERS_TIMEOUT, requestTimeout: REQUEST_TIMEOUT };
    const server = config.tls
      ? createSecureServer({ ...timeouts, ...config.tls }, handler)
      : createServer(timeouts, handler);
    server.once('error', reject);
    server.listen(config.port, config.host, () => resolve(server));
  });
}

/** Milliseconds that transfers get to come to their end. */
const LAST_TRANSFERS = 30_000;

/** Nothing new is taken; what is on its way is sent to its end. */
async function stopListening(server: Server, { jobs }: Services): Promise<void> {
  const closed = new Promise<void>((resolve) => server.close(() => resolve()));
  // This ends those who listen to events, too.
  await jobs.close();
  const idle = setInterval(() => server.closeIdleConnections(), 50);
  const late = setTimeout(() => server.closeAllConnections(), LAST_TRANSFERS);
  await closed;
  clearInterval(idle);
  clearTimeout(late);
}
