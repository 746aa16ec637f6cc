import * as z from 'zod';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { describedChain, parseChain } from '@hexenkessel/core/chain';
import { deskSchema, shelfSchema, slotNameSchema, SLOTS, type Desk, type Slot } from '@hexenkessel/core/protocol';
import { route, type Route } from '../http/route.ts';
import type { Chains } from './chains.ts';
import type { Desks } from './desks.ts';

const id = z.object({ id: z.string() });
/** Checked by `parseChain`, whose messages name stage and parameter. */
const slot = z.object({ name: slotNameSchema(), document: describedChain() as z.ZodType<unknown> });
const part = z.object({
  shelf: shelfSchema().optional(),
  slot: z.enum(SLOTS).optional(),
  slots: z.partialRecord(z.enum(SLOTS), slot).optional(),
});

export function deskRoutes(chains: Chains, desks: Desks): Route[] {
  return [
    route({
      method: 'get',
      path: '/chains/{id}/desk',
      id: 'getDesk',
      summary: 'The shelf and the slots that belong to a chain',
      params: id,
      response: deskSchema(),
      handle: async ({ params }) => {
        await chains.get(params.id);
        return desks.get(params.id);
      },
    }),
    route({
      method: 'patch',
      path: '/chains/{id}/desk',
      id: 'keepDesk',
      summary: 'Keep shelf or slots; what is left out stays',
      params: id,
      body: part,
      response: deskSchema(),
      handle: async ({ params, body }) => {
        await chains.get(params.id);
        return desks.keep(params.id, {
          ...(body.shelf && { shelf: body.shelf }),
          ...(body.slot && { slot: body.slot }),
          ...(body.slots && { slots: checkedSlots(body.slots) }),
        });
      },
    }),
  ];
}

function checkedSlots(slots: Partial<Record<string, z.infer<typeof slot>>>): Desk['slots'] {
  return Object.fromEntries(
    Object.entries(slots).flatMap(([letter, content]): [string, Slot][] =>
      content ? [[letter, { name: content.name, document: parseChain(BUILT_INS, content.document) }]] : [],
    ),
  );
}
