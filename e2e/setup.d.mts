export default function setup(): Promise<void>;
