import { useEffect } from 'react';
import { api } from './api.ts';
import { tagsOf } from './live-tags.ts';
import { useAppDispatch } from './store.ts';

/** Changes come in bursts: the screen asks again at most so often. */
const GATHER_MS = 400;
const CHANNEL = 'diurna-live';
const AGAIN_MS = 3_000;

/** The stream of the book, opened and closed as often as wanted. */
function streamOf(told: (message: string) => void): { open: () => void; close: () => void } {
  let source: EventSource | null = null;
  let again: ReturnType<typeof setTimeout> | undefined;
  const close = () => {
    clearTimeout(again);
    source?.close();
    source = null;
  };
  const open = () => {
    if (source) return;
    source = new EventSource('/api/live');
    source.onmessage = ({ data }: MessageEvent<string>) => {
      told(data);
    };
    // A browser tries again by itself after a cut, but gives up on an answer such as 503.
    source.onerror = () => {
      if (source?.readyState !== EventSource.CLOSED) return;
      close();
      // It may be that the session is over: then the page shows the door.
      told('session');
      again = setTimeout(open, AGAIN_MS);
    };
  };
  return { open, close };
}

/**
 * One stream for all tabs of a browser: it allows few connections to one server at a time, and a stream holds
 * one for good. The tab that has the lock listens and tells the others; when it goes, another takes over. A
 * page that is left lets its stream go at once, also when the browser keeps the page for going back.
 *
 * @returns ends it
 */
function listen(told: (message: string) => void): () => void {
  const tabs = 'BroadcastChannel' in globalThis ? new BroadcastChannel(CHANNEL) : null;
  let over = false;
  const { open, close } = streamOf((message) => {
    told(message);
    if (message !== 'hello') tabs?.postMessage(message);
  });
  if (tabs)
    tabs.onmessage = ({ data }: MessageEvent<string>) => {
      told(data);
    };
  let release: (() => void) | null = null;
  const stop = new AbortController();
  const lead = () => {
    // Without locks (plain http from afar) each tab has its own stream.
    if (!('locks' in navigator) || !tabs) {
      open();
      return;
    }
    navigator.locks
      .request(CHANNEL, { signal: stop.signal }, () => {
        if (over) return undefined;
        open();
        return new Promise<void>((resolve) => {
          release = resolve;
        });
      })
      .catch(() => undefined);
  };
  const leave = () => {
    close();
    release?.();
    release = null;
  };
  const back = (event: PageTransitionEvent) => {
    if (!event.persisted) return;
    lead();
    told('all');
  };
  addEventListener('pagehide', leave);
  addEventListener('pageshow', back);
  lead();
  return () => {
    over = true;
    stop.abort();
    leave();
    tabs?.close();
    removeEventListener('pagehide', leave);
    removeEventListener('pageshow', back);
  };
}

/**
 * Listens to what changes in the book and brings the screen up to date: a card that somebody ticks, an engine
 * that is held, a boat that was let go.
 */
export function useLive(onSignal: () => void): void {
  const dispatch = useAppDispatch();
  useEffect(() => {
    const waiting = new Set<string>();
    let timer: ReturnType<typeof setTimeout> | undefined;
    let opened = false;
    const tell = () => {
      timer = undefined;
      const tags = [...waiting].flatMap(tagsOf);
      waiting.clear();
      dispatch(api.util.invalidateTags(tags));
    };
    const end = listen((message) => {
      if (message === 'hello') {
        // After a break whatever is shown may be old.
        if (opened) waiting.add('all');
        opened = true;
        onSignal();
      } else waiting.add(message);
      if (waiting.size > 0) timer ??= setTimeout(tell, GATHER_MS);
    });
    return () => {
      clearTimeout(timer);
      end();
    };
  }, [dispatch, onSignal]);
}
