import { api, reads, writes } from '../app/api.ts';

/** What the rooms read and write of gateway: every route by its name in the contract. */
export const gatewayApi = api.injectEndpoints({
  endpoints: (b) => ({
    listGateways: reads(b, 'listGateways', ['Fleet', 'Hours']),
    addGateway: writes(b, 'addGateway', ['Fleet', 'Records']),
    editGateway: writes(b, 'editGateway', ['Fleet', 'Records']),
    renewGatewayKey: writes(b, 'renewGatewayKey', ['Fleet', 'Records']),
    listRefusals: reads(b, 'listRefusals', ['Hours']),
  }),
});
