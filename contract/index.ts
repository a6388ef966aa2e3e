import { backgroundRoutes } from './background.ts';
import { changesRoutes } from './changes.ts';
import { dayRoutes } from './day.ts';
import { exchangeRoutes } from './exchange.ts';
import { findingsRoutes } from './findings.ts';
import { firstDayRoutes } from './first-day.ts';
import { fleetRoutes } from './fleet.ts';
import { gatewayRoutes } from './gateway.ts';
import { hiresRoutes } from './hires.ts';
import { jobsRoutes } from './jobs.ts';
import { lifeRoutes } from './life.ts';
import { liveRoutes } from './live.ts';
import { messagesRoutes } from './messages.ts';
import { countsRoutes } from './counts.ts';
import { orderingRoutes } from './ordering.ts';
import { peopleRoutes } from './people.ts';
import { plannerRoutes } from './planner.ts';
import { recordsRoutes } from './records.ts';
import type { Route } from './route.ts';
import { rulesRoutes } from './rules.ts';
import { batteryRoutes } from './batteries.ts';
import { seasonRoutes } from './season.ts';
import { serviceRoutes } from './service.ts';
import { snagsRoutes } from './snags.ts';
import { stepPicturesRoutes } from './step-pictures.ts';
import { storesRoutes } from './stores.ts';
import { systemRoutes } from './system.ts';
import { workCalendarRoutes } from './work-calendar.ts';
import { usageRoutes } from './usage.ts';
import { visitRoutes } from './visit.ts';

/** Every route of the API by name; there are no others. */
export const routes = {
  ...systemRoutes,
  ...peopleRoutes,
  ...firstDayRoutes,
  ...fleetRoutes,
  ...usageRoutes,
  ...workCalendarRoutes,
  ...hiresRoutes,
  ...gatewayRoutes,
  ...serviceRoutes,
  ...seasonRoutes,
  ...batteryRoutes,
  ...rulesRoutes,
  ...lifeRoutes,
  ...jobsRoutes,
  ...visitRoutes,
  ...stepPicturesRoutes,
  ...findingsRoutes,
  ...liveRoutes,
  ...snagsRoutes,
  ...storesRoutes,
  ...countsRoutes,
  ...orderingRoutes,
  ...plannerRoutes,
  ...changesRoutes,
  ...messagesRoutes,
  ...dayRoutes,
  ...recordsRoutes,
  ...backgroundRoutes,
  ...exchangeRoutes,
} satisfies Record<string, Route>;

export type RouteName = keyof typeof routes;
export * from './common.ts';
export * from './route.ts';
