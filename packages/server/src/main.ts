import { fileURLToPath } from 'node:url';
import { pino } from 'pino';
import { readConfig, type Config } from './config.ts';
import { loadDemo } from './loadDemo.ts';
import { loadSignals } from './loadSignals.ts';
import { startServer, type RunningServer } from './server.ts';

const log = pino({ level: process.env['LOG_LEVEL'] ?? 'warn' });

const begin = (config: Config): Promise<RunningServer> =>
  startServer(config, log, async (services) => {
    if (await loadDemo(services)) console.log('The Fog Museum has been set up in an empty store.');
    await loadSignals(services);
  });

try {
  const config = readConfig(process.env, fileURLToPath(new URL('../../..', import.meta.url)));
  let server = await begin(config);
  let closing = false;
  console.log(`Hexenkessel is up at ${server.address}`);
  for (const signal of ['SIGINT', 'SIGTERM'] as const) {
    process.on(signal, () => {
      if (closing) process.exit(1);
      closing = true;
      void server.close().then(() => process.exit(0));
    });
  }
  for (;;) {
    await server.services.restoring.staged;
    const port = Number(new URL(server.address).port);
    await server.close();
    if (closing) break;
    server = await begin({ ...config, port });
    console.log(`A backup was put in place; Hexenkessel is up again at ${server.address}`);
  }
} catch (error) {
  const { code, message } = error as NodeJS.ErrnoException;
  console.error(code === 'EADDRINUSE' ? `The port is taken; set PORT to another. (${message})` : message);
  // At once, whatever threads are still about.
  process.exit(1);
}
