import { z } from 'zod';
import { created, id, idParam, instant, name, version } from './common.ts';
import { EVERYONE, route } from './route.ts';

/** The most messages in one post. */
export const MOST_MESSAGES = 500;

/** A message as the box on the boat has it: NMEA 2000 as a line of text, or a Signal K delta. */
export const gatewayMessage = z.union([
  z.object({
    n2k: z
      .string()
      .max(400)
      .meta({
        description:
          'One NMEA 2000 message in the comma-separated form "time,priority,pgn,source,destination,length,bytes".',
      }),
  }),
  z.object({
    signalk: z.unknown().meta({ description: 'A Signal K delta; propulsion.*.runTime in seconds is taken from it.' }),
  }),
]);

const tally = z.object({ taken: z.int(), repeated: z.int(), late: z.int(), refused: z.int(), other: z.int() });

export const gateway = z.object({
  id,
  version,
  name,
  boatId: id,
  boatName: z.string(),
  active: z.boolean(),
  heardAt: instant.nullable(),
  tally: tally.meta({
    description: 'Of all its engine times since it was added; `other` = messages about other things.',
  }),
  clockOff: z.boolean().meta({ description: 'Its clock was wrong when it was last heard.' }),
  engines: z.array(z.object({ engineId: id, engineName: z.string(), hours: z.number(), at: instant })),
});
export type Gateway = z.infer<typeof gateway>;

export const gatewayEdit = z.object({ name, boatId: id, active: z.boolean() });
const key = z.string().meta({ description: 'Shown this once; the book keeps only its hash.' });

export const gatewayRoutes = {
  sendMessages: route({
    method: 'post',
    path: '/api/gateway/messages',
    roles: 'gateway',
    body: z.object({
      messages: z
        .array(gatewayMessage)
        .min(1, 'are missing')
        .max(MOST_MESSAGES, `are more than ${MOST_MESSAGES} at once`),
    }),
    reply: tally.extend({ refusals: z.array(z.object({ message: z.int(), why: z.string() })) }),
    summary: 'Engine time from a box on a boat. Sending again, late or out of order does no harm.',
  }),
  listGateways: route({
    method: 'get',
    path: '/api/gateways',
    roles: EVERYONE,
    reply: z.array(gateway),
    summary: 'The boxes on boats and what was heard of them.',
  }),
  addGateway: route({
    method: 'post',
    path: '/api/gateways',
    roles: ['administrator'],
    body: gatewayEdit,
    reply: created.extend({ key }),
    showsSecret: true,
    summary: 'Add a box; its key is shown once.',
  }),
  editGateway: route({
    method: 'put',
    path: '/api/gateways/:id',
    roles: ['administrator'],
    params: idParam,
    body: gatewayEdit.extend({ version }),
    reply: created,
    summary: 'Move a box to another boat, or stop listening to it.',
  }),
  renewGatewayKey: route({
    method: 'post',
    path: '/api/gateways/:id/key',
    roles: ['administrator'],
    params: idParam,
    body: z.object({ version }),
    reply: created.extend({ key }),
    showsSecret: true,
    summary: 'A new key; the old one is void at once.',
  }),
  listRefusals: route({
    method: 'get',
    path: '/api/gateways/:id/refusals',
    roles: EVERYONE,
    params: idParam,
    reply: z.array(z.object({ at: instant, text: z.string(), why: z.string() })),
    summary: 'The last messages refused, with why.',
  }),
};
