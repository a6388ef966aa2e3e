import type { JobCard } from '@diurna/contract/jobs';
import type { BoardReply } from '@diurna/contract/planner';
import type { PlannedVisit } from '@diurna/core/planner';
import { FLEET_CSV, openYard, type Client } from './yard.ts';

/** The first day of the plans: a Monday, early. */
export const MONDAY = '2026-05-11';

/** A yard whose two technicians can do everything on Turnstone, with what it takes to accept plans there. */
export async function openPlanYard() {
  const yard = await openYard(() => new Date('2026-05-11T09:30:00Z'));
  const administrator = await yard.as('administrator');
  const coordinator = await yard.as('coordinator');
  await administrator.post('/exchange/fleet', FLEET_CSV);
  const secondId = (
    await administrator.post<{ id: number }>('/people', {
      name: 'Second',
      username: 'second',
      role: 'technician',
      baseId: yard.baseId,
      active: true,
      password: 'a-long-password',
    })
  ).id;
  const { people } = await coordinator.get<{ people: { id: number; version: number; role: string }[] }>(
    `/people/work?from=${MONDAY}`,
  );
  for (const p of people.filter((x) => x.role === 'technician'))
    await coordinator.put(`/people/${p.id}/work`, {
      skills: ['lower units'],
      pace: 1,
      rateMinor: 4800,
      overtimeMinutes: 0,
      overtimePercent: 150,
      shifts: [],
      version: p.version,
    });
  const first = await yard.as('technician');
  const second = yard.visitor();
  await second.signIn('second');
  const boats = (await coordinator.get<{ rows: { id: number; name: string }[] }>('/fleet/boats?size=20')).rows;
  const boatId = boats.find((b) => b.name === 'Turnstone')!.id;
  const knotId = boats.find((b) => b.name === 'Knot')!.id;

  const firstOil = (task: string) =>
    `${task.split(' ')[0] === engineBoat(boatId)[0] ? engineBoat(boatId)[0] : ''} engine-oil`;

  let latest: BoardReply;
  const board = async (query = '') => (latest = await coordinator.get<BoardReply>(`/plan?days=14${query}`));
  const engineBoat = (boat: number) => latest.problem.engines.filter((e) => e.boat === String(boat)).map((e) => e.id);
  const visit = (
    of: string[],
    day: number,
    technician = yard.people.technician,
    more: Partial<PlannedVisit> & { pinned?: boolean } = {},
  ): PlannedVisit & { pinned?: boolean } => ({
    boat: String(boatId),
    day,
    technician: String(technician),
    start: 500,
    elapsed: 60,
    tasks: of,
    ...more,
  });
  const body = (b: BoardReply, visits: PlannedVisit[], more: object = {}) => ({
    firstDay: b.firstDay,
    days: b.days,
    basedOn: b.accepted?.id ?? null,
    jobs: b.standing.map((j) => ({ id: j.jobId, version: j.version })),
    visits,
    ...more,
  });
  const accept = async (visits: PlannedVisit[], more: object = {}) =>
    coordinator.post<{ added: number; moved: number; calledOff: number; kept: number; id: number }>(
      '/plan/accept',
      body(await board(), visits, more),
    );
  const told = async (who: Client) => (await who.get<{ text: string }[]>('/session/notices')).map((n) => n.text);
  const card = (id: number) => coordinator.get<JobCard>(`/jobs/${id}`);
  const seen = async (...who: Client[]) => {
    for (const w of who) {
      const all = await w.get<{ id: number }[]>('/session/notices');
      if (all.length > 0) await w.post('/session/notices/read', { upTo: all.at(-1)!.id });
    }
  };
  /**
   * Calls all cards off and puts all told away: plans and what people were told are never erased. Turnstone's tasks.
   */
  const begin = async () => {
    await yard.pool.query(
      `update notice set read_at = at; update job_task set on_open_job = false; update job set status = 'cancelled',
        version = version + 1 where status = 'open'`,
    );
    return (
      (await board()).problem.tasks
        .filter((t) => engineBoat(boatId).includes(t.engine) && t.kind !== 'oil-filter')
        .map((t) => t.id)
        // The oil of an engine first: its filter comes with it.
        .sort((a, b) => Number(b === firstOil(b)) - Number(a === firstOil(a)))
    );
  };
  return {
    yard,
    coordinator,
    first,
    second,
    secondId,
    boatId,
    knotId,
    board,
    engineBoat,
    visit,
    body,
    accept,
    told,
    card,
    seen,
    begin,
  };
}
