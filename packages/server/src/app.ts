import Router from '@koa/router';
import Koa from 'koa';
import helmet from 'koa-helmet';
import type { Knex } from 'knex';
import { learnScripts } from '@hexenkessel/core/script';
import type { Logger } from 'pino';
import { ChainIndex } from './chains/chainIndex.ts';
import { Chains } from './chains/chains.ts';
import { chainRoutes } from './chains/chainRoutes.ts';
import { deskRoutes } from './chains/deskRoutes.ts';
import { Desks } from './chains/desks.ts';
import type { Config } from './config.ts';
import { Reserve } from './store/reserve.ts';
import { Restoring } from './store/restoring.ts';
import { StoreState } from './store/storeState.ts';
import { guard } from './http/guard.ts';
import { healthRoute } from './store/healthRoute.ts';
import { openApiDocument } from './http/openApi.ts';
import { answerProblems } from './http/problem.ts';
import { requestLog } from './http/requestLog.ts';
import { mountRoutes, type Route } from './http/route.ts';
import { staticFiles } from './http/staticFiles.ts';
import { Favourites } from './scripts/favourites.ts';
import { scriptRoutes } from './scripts/scriptRoutes.ts';
import { Scripts } from './scripts/scripts.ts';
import { RenderJobs } from './renders/renderJobs.ts';
import { renderRoutes } from './renders/renderRoutes.ts';
import { Renders } from './renders/renders.ts';
import { AudioFiles } from './sounds/audioFiles.ts';
import { Mixing } from './sounds/mixing.ts';
import { SoundIntake } from './sounds/soundIntake.ts';
import { audioRoutes } from './sounds/audioRoutes.ts';
import { soundRoutes } from './sounds/soundRoutes.ts';
import { storageRoutes } from './sounds/storageRoutes.ts';
import { Sounds } from './sounds/sounds.ts';
import { SoundUses } from './sounds/soundUses.ts';
import { AudioWorkers } from './workers/audioWorkers.ts';
import { TakeProcesses } from './workers/takeProcesses.ts';

export interface Services {
  readonly sounds: Sounds;
  readonly chains: Chains;
  readonly index: ChainIndex;
  readonly restoring: Restoring;
  readonly intake: SoundIntake;
  readonly files: AudioFiles;
  readonly jobs: RenderJobs;
  readonly workers: AudioWorkers;
  readonly processes: TakeProcesses;
  readonly routes: readonly Route[];
  readonly state: StoreState;
  readonly reserve: Reserve;
  /** All that is written by `work` is, or nothing of it. */
  readonly transaction: (work: (within: Knex.Transaction) => Promise<void>) => Promise<void>;
}

/** Puts the parts together over an open database. */
export function createServices(config: Config, database: Knex, log: Logger): Services {
  learnScripts();
  const files = new AudioFiles(config.dataFolder);
  const workers = new AudioWorkers();
  const processes = new TakeProcesses();
  const index = new ChainIndex(database);
  const uses = new SoundUses(database, index);
  const sounds = new Sounds(database, files, uses);
  const chains = new Chains(database, index);
  const intake = new SoundIntake(sounds, files, processes);
  const renders = new Renders(database, sounds, chains);
  const jobs = new RenderJobs({ database, renders, sounds, files, workers, log });
  const restoring = new Restoring(database, files, config.dataFolder);
  const routes = [
    healthRoute(files, renders),
    ...soundRoutes(sounds, intake, new Mixing(sounds, files, workers)),
    ...audioRoutes(sounds, files, workers),
    ...storageRoutes({ sounds, uses, files, restoring, database }),
    ...chainRoutes(chains),
    ...deskRoutes(chains, new Desks(database)),
    ...renderRoutes(renders, jobs),
    ...scriptRoutes(new Scripts(database), new Favourites(config.favouritesFolder)),
  ];
  const state = new StoreState(database);
  return {
    sounds,
    chains,
    index,
    restoring,
    intake,
    files,
    jobs,
    workers,
    processes,
    routes,
    state,
    reserve: new Reserve(config.dataFolder, files),
    transaction: (work) => database.transaction(work),
  };
}

/** The web application: guards, the interface's routes under /api, the page for everything else. */
export function createApp(config: Config, { routes, reserve }: Services, log: Logger): Koa {
  const app = new Koa();
  const router = new Router();
  mountRoutes(router, routes);
  const openApi = openApiDocument(routes);
  router.get('/api/openapi.json', (context) => void (context.body = openApi));

  app.on('error', (error: NodeJS.ErrnoException) => {
    // A listener that goes away in the middle of a download is no fault.
    if (error.code !== 'ECONNRESET' && error.code !== 'EPIPE') log.error({ err: error }, 'response failed');
  });
  app.use(secureHeaders());
  app.use(requestLog(log));
  app.use(answerProblems(log));
  app.use(guard(config));
  app.use(reserve.forFreeing());
  app.use(router.routes());
  app.use(router.allowedMethods());
  if (config.webFolder !== undefined) {
    app.use(pageForUnknownPaths());
    app.use(staticFiles(config.webFolder));
  }
  return app;
}

/** Views of something whose name may have a dot in it, as that of a script’s file. */
const NAMED = /^\/(?:script|reference)\/[^/]+$/;

/** Deep links such as /bench/… are the page's own; it is answered for every path that is no file. */
function pageForUnknownPaths(): Koa.Middleware {
  return async (context, next) => {
    const reading = context.method === 'GET' || context.method === 'HEAD';
    if (reading && !context.path.startsWith('/api/') && (NAMED.test(context.path) || !/\.\w+$/.test(context.path)))
      context.path = '/index.html';
    await next();
  };
}

function secureHeaders(): Koa.Middleware {
  return helmet({
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'self'"],
        // Scripts of chains are compiled to WebAssembly; nothing else is made from text.
        scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
        // The interface's styles are written into the page while it runs.
        styleSrc: ["'self'", "'unsafe-inline'"],
        imgSrc: ["'self'", 'data:', 'blob:'],
        mediaSrc: ["'self'", 'blob:'],
        workerSrc: ["'self'", 'blob:'],
        objectSrc: ["'none'"],
        baseUri: ["'none'"],
        formAction: ["'none'"],
        frameAncestors: ["'none'"],
      },
    },
    crossOriginEmbedderPolicy: { policy: 'require-corp' },
    crossOriginOpenerPolicy: { policy: 'same-origin' },
    crossOriginResourcePolicy: { policy: 'same-origin' },
    strictTransportSecurity: false,
  });
}
