import { fileURLToPath } from 'node:url';
import { pino } from 'pino';
import { readConfig } from './config.ts';
import { loadDemo } from './loadDemo.ts';
import { loadSignals } from './loadSignals.ts';
import { startServer } from './server.ts';

const log = pino({ level: process.env['LOG_LEVEL'] ?? 'warn' });

try {
  const config = readConfig(process.env, fileURLToPath(new URL('../../..', import.meta.url)));
  const server = await startServer(config, log, async (services) => {
    if (await loadDemo(services)) console.log('The Fog Museum has been set up in an empty store.');
    await loadSignals(services);
  });
  console.log(`Hexenkessel is up at ${server.address}`);
  let closing = false;
  for (const signal of ['SIGINT', 'SIGTERM'] as const) {
    process.on(signal, () => {
      if (closing) process.exit(1);
      closing = true;
      void server.close().then(() => process.exit(0));
    });
  }
} catch (error) {
  const { code, message } = error as NodeJS.ErrnoException;
  console.error(code === 'EADDRINUSE' ? `The port is taken; set PORT to another. (${message})` : message);
  // At once, whatever threads are still about.
  process.exit(1);
}
