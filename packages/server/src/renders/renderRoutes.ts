import { createSession } from 'better-sse';
import * as z from 'zod';
import { renderOrderSchema, renderSchema, renderWithChainSchema, type Render } from '@hexenkessel/core/protocol';
import { answerPage, pageQuery } from '../http/pages.ts';
import { route, type Route } from '../http/route.ts';
import type { RenderJobs } from './renderJobs.ts';
import type { Renders } from './renders.ts';

const id = z.object({ id: z.string() });

export function renderRoutes(renders: Renders, jobs: RenderJobs): Route[] {
  return [
    route({
      method: 'get',
      path: '/renders',
      id: 'listRenders',
      summary: 'Renders, newest first, page by page',
      query: pageQuery(['added'])
        .pick({ limit: true, after: true })
        .extend({
          chain: z.string().optional().describe('Only those of this chain, by its id.'),
          source: z.string().optional().describe('Only those of this sound, by its id.'),
          done: z.enum(['true', 'false']).optional().describe('Only those that are done; or only those that are not.'),
        }),
      response: z.array(renderSchema()),
      paged: true,
      handle: async ({ query: { done, ...query }, context }) =>
        answerPage(context, await renders.list({ ...query, done: done && done === 'true' })),
    }),
    route({
      method: 'post',
      path: '/renders',
      id: 'createRender',
      summary: 'Render a sound through a chain into a new sound',
      body: renderOrderSchema(),
      response: renderSchema(),
      status: 202,
      handle: async ({ body }) => jobs.add(body),
    }),
    route({
      method: 'get',
      path: '/renders/events',
      id: 'followRenders',
      summary: 'Changes of renders as server-sent events named "render"',
      file: {
        types: ['text/event-stream'],
        description: 'Events named "render", for as long as one listens; the data of each is a Render as JSON.',
      },
      handle: async ({ context }) => {
        context.respond = false;
        context.res.statusCode = 200;
        const session = await createSession(context.req, context.res);
        const send = (render: Render) => session.push(render, 'render');
        const end = () => void context.res.end();
        jobs.on('change', send);
        jobs.once('close', end);
        session.once('disconnected', () => {
          jobs.off('change', send);
          jobs.off('close', end);
        });
        return undefined;
      },
    }),
    route({
      method: 'get',
      path: '/renders/{id}',
      id: 'getRender',
      summary: 'A render with the chain exactly as it was',
      params: id,
      response: renderWithChainSchema(),
      handle: async ({ params }) => renders.get(params.id),
    }),
    route({
      method: 'post',
      path: '/renders/{id}/again',
      id: 'renderAgain',
      summary: 'Render the same again into a new sound',
      params: id,
      response: renderSchema(),
      status: 202,
      handle: async ({ params }) => jobs.addAgain(params.id),
    }),
    route({
      method: 'post',
      path: '/renders/{id}/cancel',
      id: 'cancelRender',
      summary: 'Cancel a queued or running render',
      params: id,
      response: renderSchema(),
      handle: async ({ params }) => jobs.cancel(params.id),
    }),
  ];
}
