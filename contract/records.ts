import { z } from 'zod';
import { id, pageOf, pageQuery } from './common.ts';
import { READ_RECORDS, route } from './route.ts';

export const auditRow = z.object({
  id,
  at: z.string(),
  person: z.string().nullable(),
  act: z.string(),
  subject: z.string(),
  subjectId: id.nullable(),
  title: z.string().nullable(),
  before: z.unknown(),
  after: z.unknown(),
});
export type AuditRow = z.infer<typeof auditRow>;

export const recordsRoutes = {
  audit: route({
    method: 'get',
    path: '/api/records/audit',
    roles: READ_RECORDS,
    reply: pageOf(auditRow).extend({
      names: z.record(z.string(), z.string()).meta({ description: 'Of what is told by number: `boatId 17`.' }),
    }),
    query: pageQuery.extend({
      subject: z.string().max(40).optional(),
      subjectId: z.coerce.number().int().positive().optional(),
      personId: z.coerce.number().int().positive().optional(),
    }),
    summary: 'Who changed what, when, before and after.',
  }),
};
