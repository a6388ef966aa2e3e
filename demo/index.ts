export { startSupplierDesk } from './supplier-desk.ts';
export { DEMO_ACCOUNTS, fillDemo } from './fill.ts';
export { DEMO_ZONE } from './scenario.ts';
export { startBookingDesk } from './booking-desk.ts';
export { startEngineGateway } from './engine-gateway.ts';
export { startMailbox } from './mailbox.ts';
