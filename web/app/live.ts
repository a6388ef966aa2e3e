import { useEffect } from 'react';
import { api } from './api.ts';
import { tagsOf } from './live-tags.ts';
import { useAppDispatch } from './store.ts';

/** Changes come in bursts: the screen asks again at most so often. */
const GATHER_MS = 400;

/**
 * Listens to what changes in the book and brings the screen up to date: a card that somebody ticks, an engine
 * that is held, a boat that was let go.
 */
export function useLive(onSignal: () => void): void {
  const dispatch = useAppDispatch();
  useEffect(() => {
    const source = new EventSource('/api/live');
    const waiting = new Set<string>();
    let timer: ReturnType<typeof setTimeout> | undefined;
    let opened = false;
    const tell = () => {
      timer = undefined;
      const tags = [...waiting].flatMap(tagsOf);
      waiting.clear();
      dispatch(api.util.invalidateTags(tags));
    };
    source.onmessage = ({ data }: MessageEvent<string>) => {
      if (data === 'hello') {
        // After a break whatever is shown may be old.
        if (opened) waiting.add('all');
        opened = true;
        onSignal();
      } else waiting.add(data);
      if (waiting.size > 0) timer ??= setTimeout(tell, GATHER_MS);
    };
    return () => {
      clearTimeout(timer);
      source.close();
    };
  }, [dispatch, onSignal]);
}
