import { mkdir } from 'node:fs/promises';
import { createServer, type RequestListener, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import type { Logger } from 'pino';
import { createApp, createServices, type Services } from './app.ts';
import type { Config } from './config.ts';
import { connectDatabase } from './database/connect.ts';

export interface RunningServer {
  readonly address: string;
  readonly services: Services;
  /** Finishes what is being answered, stops the jobs and closes the database. */
  close(): Promise<void>;
}

/** Opens the data folder, migrates, takes up jobs and listens. `prepare` runs before the first request is answered. */
export async function startServer(
  config: Config,
  log: Logger,
  prepare?: (services: Services) => Promise<void>,
): Promise<RunningServer> {
  await mkdir(config.dataFolder, { recursive: true });
  const database = await connectDatabase(join(config.dataFolder, 'hexenkessel.sqlite'));
  const services = createServices(config, database, log);
  await services.files.open();
  await prepare?.(services);
  const server = await listen(createApp(config, services, log).callback(), config);
  await services.jobs.open();
  const { port } = server.address() as AddressInfo;
  return {
    address: `http://${config.host.includes(':') ? `[${config.host}]` : config.host}:${port}`,
    services,
    async close() {
      const closed = new Promise<void>((resolve) => server.close(() => resolve()));
      server.closeIdleConnections();
      await services.jobs.close();
      setTimeout(() => server.closeAllConnections(), 500).unref(); // listeners to events never end by themselves
      await closed;
      await services.workers.close();
      await database.destroy();
    },
  };
}

function listen(handler: RequestListener, config: Config): Promise<Server> {
  return new Promise((resolve, reject) => {
    const server = createServer(handler);
    server.once('error', reject);
    server.listen(config.port, config.host, () => resolve(server));
  });
}
