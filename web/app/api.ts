import type { BodyOf, Problem, QueryOf, ReplyOf, routes } from '@diurna/contract';
import { CLOCK_HEADER, TOKEN_HEADER } from '@diurna/contract/route';
import { createApi, fetchBaseQuery } from '@reduxjs/toolkit/query/react';
import { goBy } from './clock.ts';

type R = typeof routes;
export type Reply<N extends keyof R> = ReplyOf<R[N]>;
export type Body<N extends keyof R> = BodyOf<R[N]>;
export type Query<N extends keyof R> = QueryOf<R[N]>;
type WithId<N extends keyof R> = Body<N> & { id: number };

const raw = fetchBaseQuery({
  fetchFn: async (request) => {
    const reply = await fetch(request);
    const told = reply.headers.get(CLOCK_HEADER);
    if (told !== null) goBy(told);
    return reply;
  },
  baseUrl: '/api',
  credentials: 'same-origin',
  prepareHeaders: (headers, { getState }) => {
    const session = api.endpoints.session.select()(getState() as never).data;
    if (session?.csrfToken) headers.set(TOKEN_HEADER, session.csrfToken);
    return headers;
  },
});

const TAGS = [
  'Session',
  'People',
  'Fleet',
  'Hours',
  'Hires',
  'Due',
  'Jobs',
  'Stores',
  'Records',
  'Rules',
  'Snags',
  'Plan',
  'Work',
  'Notices',
  'Card',
  'Progress',
  'Condition',
  'Templates',
  'Waste',
  'Wanted',
] as const;
/** What one job, reading or entry can change elsewhere on the screen. */
const WORKED = [
  'Hours',
  'Hires',
  'Due',
  'Jobs',
  'Card',
  'Progress',
  'Condition',
  'Stores',
  'Records',
  'Fleet',
  'Plan',
  'Waste',
] as const;
const SHIFTED = ['Work', 'Plan', 'Records'] as const;
const RULED = ['Rules', 'Due', 'Records'] as const;
const HIRED = ['Hires', 'Due', 'Records'] as const;

const split = <T extends { id: number }>({ id, ...body }: T) => ({ id, body });

/** Every call to the server, typed by the contract. */
export const api = createApi({
  reducerPath: 'api',
  baseQuery: raw,
  tagTypes: TAGS,
  keepUnusedDataFor: 120,
  endpoints: (b) => ({
    session: b.query<Reply<'readSession'>, void>({ query: () => '/session', providesTags: ['Session'] }),
    signIn: b.mutation<Reply<'signIn'>, Body<'signIn'>>({
      query: (body) => ({ url: '/session', method: 'POST', body }),
    }),
    signOut: b.mutation<Reply<'signOut'>, void>({ query: () => ({ url: '/session', method: 'DELETE' }) }),
    signOutEverywhere: b.mutation<Reply<'signOutEverywhere'>, void>({
      query: () => ({ url: '/session/everywhere', method: 'DELETE' }),
    }),
    changePassword: b.mutation<Reply<'changePassword'>, Body<'changePassword'>>({
      query: (body) => ({ url: '/session/password', method: 'PUT', body }),
    }),
    firstRun: b.mutation<Reply<'firstRun'>, Body<'firstRun'>>({
      query: (body) => ({ url: '/first-run', method: 'POST', body }),
    }),
    people: b.query<Reply<'listPeople'>, void>({ query: () => '/people', providesTags: ['People'] }),
    addPerson: b.mutation<Reply<'addPerson'>, Body<'addPerson'>>({
      query: (body) => ({ url: '/people', method: 'POST', body }),
      invalidatesTags: ['People', 'Records'],
    }),
    editPerson: b.mutation<Reply<'editPerson'>, WithId<'editPerson'>>({
      query: (a) => ({ url: `/people/${a.id}`, method: 'PUT', body: split(a).body }),
      invalidatesTags: ['People', 'Records'],
    }),
    settings: b.query<Reply<'readSettings'>, void>({ query: () => '/settings', providesTags: ['People'] }),
    editSettings: b.mutation<Reply<'editSettings'>, Body<'editSettings'>>({
      query: (body) => ({ url: '/settings', method: 'PUT', body }),
      invalidatesTags: ['People', 'Session', 'Jobs'],
    }),

    bases: b.query<Reply<'listBases'>, void>({ query: () => '/fleet/bases', providesTags: ['Fleet'] }),
    addBase: b.mutation<Reply<'addBase'>, Body<'addBase'>>({
      query: (body) => ({ url: '/fleet/bases', method: 'POST', body }),
      invalidatesTags: ['Fleet', 'Due'],
    }),
    editBase: b.mutation<Reply<'editBase'>, WithId<'editBase'>>({
      query: (a) => ({ url: `/fleet/bases/${a.id}`, method: 'PUT', body: split(a).body }),
      invalidatesTags: ['Fleet', 'Due'],
    }),
    models: b.query<Reply<'listModels'>, void>({ query: () => '/fleet/models', providesTags: ['Fleet'] }),
    addModel: b.mutation<Reply<'addModel'>, Body<'addModel'>>({
      query: (body) => ({ url: '/fleet/models', method: 'POST', body }),
      invalidatesTags: ['Fleet', 'Due', 'Stores'],
    }),
    editModel: b.mutation<Reply<'editModel'>, WithId<'editModel'>>({
      query: (a) => ({ url: `/fleet/models/${a.id}`, method: 'PUT', body: split(a).body }),
      invalidatesTags: ['Fleet', 'Due', 'Stores', 'Records'],
    }),
    boats: b.query<Reply<'listBoats'>, Query<'listBoats'>>({
      query: (params) => ({ url: '/fleet/boats', params }),
      providesTags: ['Fleet'],
    }),
    boat: b.query<Reply<'readBoat'>, number>({ query: (id) => `/fleet/boats/${id}`, providesTags: ['Fleet'] }),
    addBoat: b.mutation<Reply<'addBoat'>, Body<'addBoat'>>({
      query: (body) => ({ url: '/fleet/boats', method: 'POST', body }),
      invalidatesTags: ['Fleet', 'Records'],
    }),
    editBoat: b.mutation<Reply<'editBoat'>, WithId<'editBoat'>>({
      query: (a) => ({ url: `/fleet/boats/${a.id}`, method: 'PUT', body: split(a).body }),
      invalidatesTags: ['Fleet', 'Due', 'Records'],
    }),
    retireBoat: b.mutation<Reply<'retireBoat'>, WithId<'retireBoat'>>({
      query: (a) => ({ url: `/fleet/boats/${a.id}/retire`, method: 'POST', body: split(a).body }),
      invalidatesTags: [...WORKED],
    }),
    engine: b.query<Reply<'readEngine'>, number>({
      query: (id) => `/fleet/engines/${id}`,
      providesTags: ['Fleet', 'Hours'],
    }),
    addEngine: b.mutation<Reply<'addEngine'>, Body<'addEngine'>>({
      query: (body) => ({ url: '/fleet/engines', method: 'POST', body }),
      invalidatesTags: [...WORKED],
    }),
    editEngine: b.mutation<Reply<'editEngine'>, WithId<'editEngine'>>({
      query: (a) => ({ url: `/fleet/engines/${a.id}`, method: 'PUT', body: split(a).body }),
      invalidatesTags: [...WORKED],
    }),
    retireEngine: b.mutation<Reply<'retireEngine'>, WithId<'retireEngine'>>({
      query: (a) => ({ url: `/fleet/engines/${a.id}/retire`, method: 'POST', body: split(a).body }),
      invalidatesTags: [...WORKED],
    }),
    changeMeter: b.mutation<Reply<'changeMeter'>, WithId<'changeMeter'>>({
      query: (a) => ({ url: `/fleet/engines/${a.id}/meters`, method: 'POST', body: split(a).body }),
      invalidatesTags: [...WORKED],
    }),
    search: b.query<Reply<'search'>, string>({
      query: (q) => ({ url: '/search', params: { q } }),
      keepUnusedDataFor: 5,
    }),

    hoursSheet: b.query<Reply<'hoursSheet'>, Query<'hoursSheet'>>({
      query: (params) => ({ url: '/usage/hours', params }),
      providesTags: ['Hours'],
    }),
    typeHours: b.mutation<Reply<'typeHours'>, Body<'typeHours'>>({
      query: (body) => ({ url: '/usage/readings', method: 'POST', body }),
      invalidatesTags: ['Hours', 'Due', 'Fleet', 'Records'],
    }),
    readings: b.query<Reply<'listReadings'>, { id: number } & Query<'listReadings'>>({
      query: ({ id, ...params }) => ({ url: `/usage/engines/${id}/readings`, params }),
      providesTags: ['Hours'],
    }),
    curve: b.query<Reply<'usageCurve'>, number>({
      query: (id) => `/usage/engines/${id}/curve`,
      providesTags: ['Hours', 'Due', 'Hires'],
    }),
    withdrawReading: b.mutation<Reply<'withdrawReading'>, WithId<'withdrawReading'>>({
      query: (a) => ({ url: `/usage/readings/${a.id}/withdraw`, method: 'POST', body: split(a).body }),
      invalidatesTags: ['Hours', 'Due', 'Fleet', 'Records'],
    }),

    hires: b.query<Reply<'listHires'>, Query<'listHires'>>({
      query: (params) => ({ url: '/hires', params }),
      providesTags: ['Hires'],
    }),
    addHire: b.mutation<Reply<'addHire'>, Body<'addHire'>>({
      query: (body) => ({ url: '/hires', method: 'POST', body }),
      invalidatesTags: [...HIRED],
    }),
    editHire: b.mutation<Reply<'editHire'>, WithId<'editHire'>>({
      query: (a) => ({ url: `/hires/${a.id}`, method: 'PUT', body: split(a).body }),
      invalidatesTags: [...HIRED],
    }),
    cancelHire: b.mutation<Reply<'cancelHire'>, WithId<'cancelHire'>>({
      query: (a) => ({ url: `/hires/${a.id}/cancel`, method: 'POST', body: split(a).body }),
      invalidatesTags: [...HIRED],
    }),
    previewCalendar: b.mutation<Reply<'previewCalendar'>, { baseId: number; text: string }>({
      query: ({ baseId, text }) => ({
        url: '/hires/calendar/preview',
        params: { baseId },
        method: 'POST',
        body: text,
        headers: { 'content-type': 'text/calendar; charset=utf-8' },
      }),
    }),
    importCalendar: b.mutation<Reply<'importCalendar'>, { baseId: number; text: string }>({
      query: ({ baseId, text }) => ({
        url: '/hires/calendar',
        params: { baseId },
        method: 'POST',
        body: text,
        headers: { 'content-type': 'text/calendar; charset=utf-8' },
      }),
      invalidatesTags: [...HIRED],
    }),
    gateways: b.query<Reply<'listGateways'>, void>({ query: () => '/gateways', providesTags: ['Fleet', 'Hours'] }),
    addGateway: b.mutation<Reply<'addGateway'>, Body<'addGateway'>>({
      query: (body) => ({ url: '/gateways', method: 'POST', body }),
      invalidatesTags: ['Fleet', 'Records'],
    }),
    editGateway: b.mutation<Reply<'editGateway'>, WithId<'editGateway'>>({
      query: (a) => ({ url: `/gateways/${a.id}`, method: 'PUT', body: split(a).body }),
      invalidatesTags: ['Fleet', 'Records'],
    }),
    renewGatewayKey: b.mutation<Reply<'renewGatewayKey'>, WithId<'renewGatewayKey'>>({
      query: (a) => ({ url: `/gateways/${a.id}/key`, method: 'POST', body: split(a).body }),
      invalidatesTags: ['Fleet', 'Records'],
    }),
    refusals: b.query<Reply<'listRefusals'>, number>({
      query: (id) => `/gateways/${id}/refusals`,
      providesTags: ['Hours'],
    }),
    feeds: b.query<Reply<'listFeeds'>, void>({ query: () => '/hires/feeds', providesTags: ['Hires'] }),
    addFeed: b.mutation<Reply<'addFeed'>, Body<'addFeed'>>({
      query: (body) => ({ url: '/hires/feeds', method: 'POST', body }),
      invalidatesTags: ['Hires', 'Records'],
    }),
    editFeed: b.mutation<Reply<'editFeed'>, WithId<'editFeed'>>({
      query: (a) => ({ url: `/hires/feeds/${a.id}`, method: 'PUT', body: split(a).body }),
      invalidatesTags: ['Hires', 'Records'],
    }),
    readFeed: b.mutation<Reply<'readFeed'>, number>({
      query: (id) => ({ url: `/hires/feeds/${id}/read`, method: 'POST' }),
      invalidatesTags: [...HIRED],
    }),

    due: b.query<Reply<'dueList'>, Query<'dueList'>>({
      query: (params) => ({ url: '/service/due', params }),
      providesTags: ['Due'],
    }),
    outlook: b.query<Reply<'outlook'>, Query<'outlook'>>({
      query: (params) => ({ url: '/service/outlook', params }),
      providesTags: ['Due', 'Jobs'],
    }),
    ribbon: b.query<Reply<'ribbon'>, Query<'ribbon'>>({
      query: (params) => ({ url: '/service/ribbon', params }),
      providesTags: ['Jobs', 'Due'],
    }),
    entries: b.query<Reply<'listEntries'>, Query<'listEntries'>>({
      query: (params) => ({ url: '/service/entries', params }),
      providesTags: ['Due', 'Records'],
    }),
    breakIn: b.query<Reply<'readBreakIn'>, number>({
      query: (id) => `/service/engines/${id}/break-in`,
      providesTags: ['Due', 'Hours'],
    }),
    addBreakIn: b.mutation<Reply<'addBreakIn'>, WithId<'addBreakIn'>>({
      query: (a) => ({ url: `/service/engines/${a.id}/break-in`, method: 'POST', body: split(a).body }),
      invalidatesTags: ['Due', 'Records'],
    }),
    addEntry: b.mutation<Reply<'addEntry'>, Body<'addEntry'>>({
      query: (body) => ({ url: '/service/entries', method: 'POST', body }),
      invalidatesTags: ['Due', 'Records'],
    }),
    cancelEntry: b.mutation<Reply<'cancelEntry'>, WithId<'cancelEntry'>>({
      query: (a) => ({ url: `/service/entries/${a.id}/cancel`, method: 'POST', body: split(a).body }),
      invalidatesTags: ['Due', 'Records'],
    }),

    snags: b.query<Reply<'listSnags'>, Query<'listSnags'>>({
      query: (params) => ({ url: '/snags', params }),
      providesTags: ['Snags'],
    }),
    addSnag: b.mutation<Reply<'addSnag'>, Body<'addSnag'>>({
      query: (body) => ({ url: '/snags', method: 'POST', body }),
      invalidatesTags: ['Snags', 'Records'],
    }),
    closeSnag: b.mutation<Reply<'closeSnag'>, WithId<'closeSnag'>>({
      query: (a) => ({ url: `/snags/${a.id}/close`, method: 'POST', body: split(a).body }),
      invalidatesTags: ['Snags', 'Records'],
    }),
    schools: b.query<Reply<'listSchools'>, void>({ query: () => '/rules/schools', providesTags: ['Rules'] }),
    answerSchool: b.mutation<Reply<'answerSchool'>, Body<'answerSchool'> & { school: string }>({
      query: ({ school, ...body }) => ({ url: `/rules/schools/${school}`, method: 'PUT', body }),
      invalidatesTags: [...RULED],
    }),
    overrides: b.query<Reply<'listOverrides'>, void>({ query: () => '/rules/overrides', providesTags: ['Rules'] }),
    addOverride: b.mutation<Reply<'addOverride'>, Body<'addOverride'>>({
      query: (body) => ({ url: '/rules/overrides', method: 'POST', body }),
      invalidatesTags: [...RULED],
    }),
    endOverride: b.mutation<Reply<'endOverride'>, WithId<'endOverride'>>({
      query: (a) => ({ url: `/rules/overrides/${a.id}/end`, method: 'POST', body: split(a).body }),
      invalidatesTags: [...RULED],
    }),
    previewRules: b.query<Reply<'previewRules'>, Body<'previewRules'>>({
      query: (body) => ({ url: '/rules/preview', method: 'POST', body }),
      providesTags: ['Rules', 'Due', 'Hours'],
      keepUnusedDataFor: 20,
    }),
    compareSchool: b.query<Reply<'compareSchool'>, Query<'compareSchool'>>({
      query: (params) => ({ url: '/rules/compare', params }),
      providesTags: ['Rules', 'Due'],
    }),

    day: b.query<Reply<'readDay'>, Query<'readDay'>>({
      query: (params) => ({ url: '/day', params }),
      providesTags: ['Jobs', 'Due', 'Plan', 'Hires', 'Stores', 'Work', 'Condition'],
    }),
    board: b.query<Reply<'readBoard'>, Query<'readBoard'>>({
      query: (params) => ({ url: '/plan', params }),
      providesTags: ['Plan'],
    }),
    acceptPlan: b.mutation<Reply<'acceptPlan'>, Body<'acceptPlan'>>({
      query: (body) => ({ url: '/plan/accept', method: 'POST', body }),
      invalidatesTags: (reply) => (reply ? ['Plan', 'Jobs', 'Due', 'Records', 'Notices'] : []),
    }),
    notices: b.query<Reply<'listNotices'>, void>({ query: () => '/session/notices', providesTags: ['Notices'] }),
    readNotices: b.mutation<Reply<'readNotices'>, Body<'readNotices'>>({
      query: (body) => ({ url: '/session/notices/read', method: 'POST', body }),
      invalidatesTags: ['Notices'],
    }),
    workCalendar: b.query<Reply<'readWorkCalendar'>, Query<'readWorkCalendar'>>({
      query: (params) => ({ url: '/people/work', params }),
      providesTags: ['Work'],
    }),
    editPersonWork: b.mutation<Reply<'editPersonWork'>, WithId<'editPersonWork'>>({
      query: (a) => ({ url: `/people/${a.id}/work`, method: 'PUT', body: split(a).body }),
      invalidatesTags: [...SHIFTED],
    }),
    setPace: b.mutation<Reply<'setPace'>, WithId<'setPace'>>({
      query: (a) => ({ url: `/people/${a.id}/pace`, method: 'PUT', body: split(a).body }),
      invalidatesTags: [...SHIFTED],
    }),
    addException: b.mutation<Reply<'addException'>, { id: number; body: Body<'addException'> }>({
      query: ({ id, body }) => ({ url: `/people/${id}/exceptions`, method: 'POST', body }),
      invalidatesTags: [...SHIFTED],
    }),
    removeException: b.mutation<Reply<'removeException'>, number>({
      query: (id) => ({ url: `/people/exceptions/${id}`, method: 'DELETE' }),
      invalidatesTags: [...SHIFTED],
    }),
    addClosedDay: b.mutation<Reply<'addClosedDay'>, WithId<'addClosedDay'>>({
      query: (a) => ({ url: `/fleet/bases/${a.id}/closed-days`, method: 'POST', body: split(a).body }),
      invalidatesTags: [...SHIFTED],
    }),
    removeClosedDay: b.mutation<Reply<'removeClosedDay'>, number>({
      query: (id) => ({ url: `/fleet/closed-days/${id}`, method: 'DELETE' }),
      invalidatesTags: [...SHIFTED],
    }),
    importClosedDays: b.mutation<Reply<'importClosedDays'>, { id: number; text: string }>({
      query: ({ id, text }) => ({
        url: `/fleet/bases/${id}/closed-days/calendar`,
        method: 'POST',
        body: text,
        headers: { 'content-type': 'text/calendar; charset=utf-8' },
      }),
      invalidatesTags: [...SHIFTED],
    }),
    addLiftOut: b.mutation<Reply<'addLiftOut'>, WithId<'addLiftOut'>>({
      query: (a) => ({ url: `/fleet/bases/${a.id}/lift-out`, method: 'POST', body: split(a).body }),
      invalidatesTags: [...SHIFTED],
    }),
    removeLiftOut: b.mutation<Reply<'removeLiftOut'>, number>({
      query: (id) => ({ url: `/fleet/lift-out/${id}`, method: 'DELETE' }),
      invalidatesTags: [...SHIFTED],
    }),
    editPlanSettings: b.mutation<Reply<'editPlanSettings'>, Body<'editPlanSettings'>>({
      query: (body) => ({ url: '/plan/settings', method: 'PUT', body }),
      invalidatesTags: [...SHIFTED, 'People'],
    }),
    putPlace: b.mutation<Reply<'putPlace'>, WithId<'putPlace'>>({
      query: (a) => ({ url: `/stores/parts/${a.id}/place`, method: 'PUT', body: split(a).body }),
      invalidatesTags: ['Stores', 'Jobs', 'Records'],
    }),
    wanted: b.query<Reply<'listWanted'>, Query<'listWanted'>>({
      query: (params) => ({ url: '/stores/wanted', params }),
      providesTags: ['Wanted', 'Stores'],
    }),
    closeWanted: b.mutation<Reply<'closeWanted'>, { id: number } & Body<'closeWanted'>>({
      query: ({ id, ...body }) => ({ url: `/stores/wanted/${id}/close`, method: 'POST', body }),
      invalidatesTags: ['Wanted', 'Stores', 'Plan', 'Records'],
    }),
    arrivals: b.query<Reply<'listArrivals'>, Query<'listArrivals'>>({
      query: (params) => ({ url: '/stores/arrivals', params }),
      providesTags: ['Stores'],
    }),
    addArrival: b.mutation<Reply<'addArrival'>, Body<'addArrival'>>({
      query: (body) => ({ url: '/stores/arrivals', method: 'POST', body }),
      invalidatesTags: ['Stores', 'Plan', 'Records'],
    }),
    closeArrival: b.mutation<Reply<'closeArrival'>, WithId<'closeArrival'>>({
      query: (a) => ({ url: `/stores/arrivals/${a.id}/close`, method: 'POST', body: split(a).body }),
      invalidatesTags: ['Stores', 'Plan', 'Records'],
    }),
    giveCalendarKey: b.mutation<Reply<'giveCalendarKey'>, void>({
      query: () => ({ url: '/session/calendar-key', method: 'POST' }),
      invalidatesTags: ['Work'],
    }),

    jobs: b.query<Reply<'listJobs'>, Query<'listJobs'>>({
      query: (params) => ({ url: '/jobs', params }),
      providesTags: ['Jobs', 'Progress'],
    }),
    job: b.query<Reply<'readJob'>, number>({
      query: (id) => `/jobs/${id}`,
      providesTags: (_reply, _error, id) => ['Jobs', 'Stores', { type: 'Card', id }],
    }),
    previewJob: b.query<Reply<'previewJob'>, Body<'previewJob'>>({
      query: (body) => ({ url: '/jobs/preview', method: 'POST', body }),
      providesTags: ['Stores'],
    }),
    addJob: b.mutation<Reply<'addJob'>, Body<'addJob'>>({
      query: (body) => ({ url: '/jobs', method: 'POST', body }),
      invalidatesTags: ['Jobs', 'Due', 'Records'],
    }),
    editJob: b.mutation<Reply<'editJob'>, WithId<'editJob'>>({
      query: (a) => ({ url: `/jobs/${a.id}`, method: 'PUT', body: split(a).body }),
      invalidatesTags: ['Jobs', 'Due', 'Records'],
    }),
    cancelJob: b.mutation<Reply<'cancelJob'>, WithId<'cancelJob'>>({
      query: (a) => ({ url: `/jobs/${a.id}/cancel`, method: 'POST', body: split(a).body }),
      invalidatesTags: ['Jobs', 'Due', 'Records'],
    }),
    keepEntries: b.mutation<Reply<'keepEntries'>, WithId<'keepEntries'>>({
      query: (a) => ({ url: `/jobs/${a.id}/entries`, method: 'POST', body: split(a).body }),
      invalidatesTags: (reply, _error, { id, entries }) =>
        reply &&
        entries.some(
          (e) => e.act.kind === 'read' || e.act.kind === 'decide' || e.act.kind === 'settle' || e.act.kind === 'task',
        )
          ? [{ type: 'Card', id }]
          : [],
    }),
    handOver: b.mutation<Reply<'handOver'>, WithId<'handOver'>>({
      query: (a) => ({ url: `/jobs/${a.id}/hand-over`, method: 'POST', body: split(a).body }),
      invalidatesTags: ['Jobs', 'Card', 'Progress', 'Due', 'Records', 'Notices'],
    }),
    templates: b.query<Reply<'listTemplates'>, void>({ query: () => '/visit/templates', providesTags: ['Templates'] }),
    templateVersions: b.query<Reply<'templateVersions'>, string>({
      query: (key) => `/visit/templates/${encodeURIComponent(key)}/versions`,
      providesTags: ['Templates'],
    }),
    editTemplate: b.mutation<Reply<'editTemplate'>, Body<'editTemplate'> & { key: string }>({
      query: ({ key, ...body }) => ({ url: `/visit/templates/${encodeURIComponent(key)}`, method: 'PUT', body }),
      invalidatesTags: ['Templates', 'Records'],
    }),
    minutes: b.query<Reply<'minutes'>, void>({ query: () => '/visit/minutes', providesTags: ['Jobs', 'Work'] }),
    condition: b.query<Reply<'engineCondition'>, number>({
      query: (id) => `/findings/engines/${id}`,
      providesTags: ['Condition'],
    }),
    holds: b.query<Reply<'listHolds'>, Query<'listHolds'>>({
      query: (params) => ({ url: '/findings/holds', params }),
      providesTags: ['Condition'],
    }),
    putHold: b.mutation<Reply<'putHold'>, Body<'putHold'>>({
      query: (body) => ({ url: '/findings/holds', method: 'POST', body }),
      invalidatesTags: ['Condition', 'Hires', 'Card', 'Plan', 'Records'],
    }),
    releaseHold: b.mutation<Reply<'releaseHold'>, WithId<'releaseHold'>>({
      query: (a) => ({ url: `/findings/holds/${a.id}/release`, method: 'POST', body: split(a).body }),
      invalidatesTags: ['Condition', 'Hires', 'Card', 'Plan', 'Records'],
    }),
    callOffFollowUp: b.mutation<Reply<'callOffFollowUp'>, WithId<'callOffFollowUp'>>({
      query: (a) => ({ url: `/findings/follow-ups/${a.id}/call-off`, method: 'POST', body: split(a).body }),
      invalidatesTags: ['Condition', 'Due', 'Card', 'Records'],
    }),
    snagCauses: b.query<Reply<'snagCauses'>, number>({
      query: (id) => `/snags/${id}/causes`,
      providesTags: ['Snags', 'Condition', 'Due'],
    }),
    letGo: b.mutation<Reply<'letGo'>, WithId<'letGo'>>({
      query: (a) => ({ url: `/hires/${a.id}/let-go`, method: 'POST', body: split(a).body }),
      invalidatesTags: ['Hires', 'Plan', 'Records'],
    }),
    waste: b.query<Reply<'listWaste'>, Query<'listWaste'>>({
      query: (params) => ({ url: '/records/waste', params }),
      providesTags: ['Waste'],
    }),
    takeWasteAway: b.mutation<Reply<'takeWasteAway'>, Body<'takeWasteAway'>>({
      query: (body) => ({ url: '/records/waste', method: 'POST', body }),
      invalidatesTags: ['Waste', 'Records'],
    }),
    finishJob: b.mutation<Reply<'finishJob'>, WithId<'finishJob'>>({
      query: (a) => ({ url: `/jobs/${a.id}/finish`, method: 'POST', body: split(a).body }),
      invalidatesTags: [...WORKED],
    }),
    undoJob: b.mutation<Reply<'undoJob'>, WithId<'undoJob'>>({
      query: (a) => ({ url: `/jobs/${a.id}/undo`, method: 'POST', body: split(a).body }),
      invalidatesTags: [...WORKED],
    }),

    parts: b.query<Reply<'listParts'>, Query<'listParts'>>({
      query: (params) => ({ url: '/stores/parts', params }),
      providesTags: ['Stores'],
    }),
    part: b.query<Reply<'readPart'>, number>({ query: (id) => `/stores/parts/${id}`, providesTags: ['Stores'] }),
    addPart: b.mutation<Reply<'addPart'>, Body<'addPart'>>({
      query: (body) => ({ url: '/stores/parts', method: 'POST', body }),
      invalidatesTags: ['Stores', 'Jobs', 'Records'],
    }),
    editPart: b.mutation<Reply<'editPart'>, WithId<'editPart'>>({
      query: (a) => ({ url: `/stores/parts/${a.id}`, method: 'PUT', body: split(a).body }),
      invalidatesTags: ['Stores', 'Jobs', 'Records'],
    }),
    ledger: b.query<Reply<'ledger'>, { id: number } & Query<'ledger'>>({
      query: ({ id, ...params }) => ({ url: `/stores/parts/${id}/ledger`, params }),
      providesTags: ['Stores'],
    }),
    modelShelves: b.query<Reply<'modelShelves'>, Query<'modelShelves'>>({
      query: (params) => ({ url: '/stores/models', params }),
      providesTags: ['Stores', 'Due'],
    }),
    moveStock: b.mutation<Reply<'moveStock'>, Body<'moveStock'>>({
      query: (body) => ({ url: '/stores/movements', method: 'POST', body }),
      invalidatesTags: ['Stores', 'Jobs', 'Records'],
    }),

    audit: b.query<Reply<'audit'>, Query<'audit'>>({
      query: (params) => ({ url: '/records/audit', params }),
      providesTags: ['Records'],
    }),
    previewImport: b.mutation<Reply<'previewImport'>, { kind: string; text: string }>({
      query: ({ kind, text }) => ({
        url: `/exchange/${kind}/preview`,
        method: 'POST',
        body: text,
        headers: { 'content-type': 'text/csv; charset=utf-8' },
      }),
    }),
    importFile: b.mutation<Reply<'importFile'>, { kind: string; text: string }>({
      query: ({ kind, text }) => ({
        url: `/exchange/${kind}`,
        method: 'POST',
        body: text,
        headers: { 'content-type': 'text/csv; charset=utf-8' },
      }),
      invalidatesTags: [...WORKED],
    }),
  }),
});

/** What went wrong, in the server's words; a plain sentence when it did not answer at all. */
export function problemOf(error: unknown): Problem | null {
  if (!error) return null;
  const { data, status } = error as { data?: unknown; status?: unknown };
  if (data && typeof data === 'object' && 'detail' in data) return data as Problem;
  return {
    type: 'about:blank',
    title: 'No answer',
    status: typeof status === 'number' ? status : 0,
    detail: 'The server does not answer. What you typed is kept here; try again in a moment.',
  };
}
