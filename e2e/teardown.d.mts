export default function teardown(): Promise<void>;
