import { ordering, type OrderWork } from './run.ts';

addEventListener('message', ({ data }: MessageEvent<OrderWork>) => {
  ordering(data, (news) => {
    postMessage(news);
  });
});
