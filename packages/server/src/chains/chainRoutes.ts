import { ZipFile } from 'yazl';
import * as z from 'zod';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { describedChain, parseChain } from '@hexenkessel/core/chain';
import { chainEntrySchema, chainNameSchema, chainStateSchema } from '@hexenkessel/core/protocol';
import { answerPage, idList, pageQuery } from '../http/pages.ts';
import { route, type Route } from '../http/route.ts';
import { CHAIN_SORTS, type Chains } from './chains.ts';

const id = z.object({ id: z.string() });
const ULID = /^[0-7][0-9A-HJKMNP-TV-Z]{25}$/;
/** Checked by `parseChain`, whose messages name stage and parameter; described in OpenAPI by the chain's own schema. */
const document = describedChain() as z.ZodType<unknown>;
const revision = z.number().int().min(1);

export function chainRoutes(chains: Chains): Route[] {
  return [
    route({
      method: 'get',
      path: '/chains',
      id: 'listChains',
      summary: 'Chains, the one changed last first, page by page',
      query: pageQuery(CHAIN_SORTS).extend({
        ids: idList(),
        readable: z.literal('true').optional().describe('Leaves out those that cannot be read.'),
      }),
      response: z.array(chainEntrySchema()),
      paged: true,
      handle: async ({ query: { readable, ...query }, context }) =>
        answerPage(context, await chains.list({ ...query, readable: readable !== undefined })),
    }),
    route({
      method: 'get',
      path: '/chains/names',
      id: 'listChainNames',
      summary: 'What all chains that can be read are called, the one changed last first',
      response: z.array(chainNameSchema()),
      handle: () => chains.names(),
    }),
    route({
      method: 'post',
      path: '/chains',
      id: 'createChain',
      summary: 'Begin a chain',
      body: z.object({
        id: z.string().regex(ULID).optional().describe('A ULID of the caller’s own; made here when left out.'),
        document,
      }),
      response: chainStateSchema(),
      status: 201,
      handle: async ({ body }) => chains.create(parseChain(BUILT_INS, body.document), body.id),
    }),
    route({
      method: 'get',
      path: '/chains/{id}',
      id: 'getChain',
      summary: 'A chain as it was last left',
      params: id,
      response: chainStateSchema(),
      handle: async ({ params }) => chains.get(params.id),
    }),
    route({
      method: 'delete',
      path: '/chains/{id}',
      id: 'deleteUnreadableChain',
      summary: 'Delete a chain that cannot be read',
      params: id,
      status: 204,
      handle: async ({ params, context }) => {
        await chains.deleteUnreadable(params.id);
        context.status = 204;
        return undefined;
      },
    }),
    route({
      method: 'get',
      path: '/chains/{id}/stored',
      id: 'downloadStoredChain',
      summary: 'Draft and versions of a chain as they are stored, read or not, as a ZIP file',
      file: { types: ['application/zip'], description: 'draft.hxk.json and version-1.hxk.json, version-2.hxk.json, …' },
      params: id,
      handle: async ({ params, context }) => {
        const { row, draft, versions } = await chains.stored(params.id);
        const zip = new ZipFile();
        const add = (text: string, name: string) =>
          zip.addBuffer(Buffer.from(text), name, { compress: false, mtime: new Date(row.updated_at) });
        if (draft !== undefined) add(draft, 'draft.hxk.json');
        for (const { number, document: stored } of versions) add(stored, `version-${number}.hxk.json`);
        zip.end();
        context.attachment(`${row.name}.zip`);
        context.type = 'application/zip';
        context.body = zip.outputStream;
        return undefined;
      },
    }),
    route({
      method: 'put',
      path: '/chains/{id}/draft',
      id: 'saveDraft',
      summary: 'Keep what is being worked on',
      params: id,
      body: z.object({ revision, document }),
      response: chainStateSchema(),
      handle: async ({ params, body }) =>
        chains.saveDraft(params.id, body.revision, parseChain(BUILT_INS, body.document)),
    }),
    route({
      method: 'post',
      path: '/chains/{id}/versions',
      id: 'saveVersion',
      summary: 'Keep a version for good',
      params: id,
      body: z.object({ revision, document, why: z.string().trim().max(300) }),
      response: chainStateSchema(),
      status: 201,
      handle: async ({ params, body }) =>
        chains.saveVersion(params.id, body.revision, parseChain(BUILT_INS, body.document), body.why),
    }),
    route({
      method: 'get',
      path: '/chains/{id}/versions/{number}',
      id: 'getVersion',
      summary: 'A version of a chain',
      params: z.object({ id: z.string(), number: z.coerce.number().int().min(1) }),
      response: describedChain(),
      handle: async ({ params }) => chains.version(params.id, params.number),
    }),
  ];
}
