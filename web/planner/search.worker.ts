import { searching, type ToSearch } from './search.ts';

const hear = searching((m) => {
  postMessage(m);
});
addEventListener('message', ({ data }: MessageEvent<ToSearch>) => {
  hear(data);
});
