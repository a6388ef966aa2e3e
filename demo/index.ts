export { DEMO_ACCOUNTS, fillDemo } from './fill.ts';
export { startBookingDesk } from './booking-desk.ts';
export { startEngineGateway } from './engine-gateway.ts';
