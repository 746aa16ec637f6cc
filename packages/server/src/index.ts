export { startServer, type RunningServer } from './server.ts';
export { readConfig, type Config } from './config.ts';
export { loadDemo } from './loadDemo.ts';
