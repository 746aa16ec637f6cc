import * as z from 'zod';
import { favouriteChainSchema, scriptEntrySchema, scriptTextSchema } from '@hexenkessel/core/protocol';
import { route, type Route } from '../http/route.ts';
import type { Favourites } from './favourites.ts';
import type { Scripts } from './scripts.ts';

const id = z.object({ id: z.string() });

export function scriptRoutes(scripts: Scripts, favourites: Favourites): Route[] {
  return [
    route({
      method: 'get',
      path: '/scripts',
      id: 'listScripts',
      summary: 'Stages that are written as text: those kept here, and those in the folder of favourites',
      response: z.array(scriptEntrySchema()),
      handle: async () => [...(await scripts.all()), ...(await favourites.scripts())],
    }),
    route({
      method: 'get',
      path: '/favourites/chains',
      id: 'listFavouriteChains',
      summary: 'Chains in the folder of favourites, as their files are',
      response: z.array(favouriteChainSchema()),
      handle: async () => favourites.chains(),
    }),
    route({
      method: 'post',
      path: '/scripts',
      id: 'createScript',
      summary: 'Keep a new script',
      body: z.object({ text: scriptTextSchema() }),
      response: scriptEntrySchema(),
      status: 201,
      handle: async ({ body }) => scripts.create(body.text),
    }),
    route({
      method: 'get',
      path: '/scripts/{id}',
      id: 'getScript',
      summary: 'A script that is kept here',
      params: id,
      response: scriptEntrySchema(),
      handle: async ({ params }) => scripts.get(params.id),
    }),
    route({
      method: 'put',
      path: '/scripts/{id}',
      id: 'saveScript',
      summary: 'Keep another text of a script; 409 where it was changed since',
      params: id,
      body: z.object({ revision: z.number().int().min(0), text: scriptTextSchema() }),
      response: scriptEntrySchema(),
      handle: async ({ params, body }) => scripts.save(params.id, body.revision, body.text),
    }),
    route({
      method: 'delete',
      path: '/scripts/{id}',
      id: 'deleteScript',
      summary: 'Delete a script; chains that use it have it with them',
      params: id,
      status: 204,
      handle: async ({ params, context }) => {
        await scripts.remove(params.id);
        context.status = 204;
        return undefined;
      },
    }),
  ];
}
