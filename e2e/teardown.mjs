export default async function teardown() {
  await globalThis.__diurnaE2e();
}
