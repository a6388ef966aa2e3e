import { afterEach, beforeEach, expect, jest, test } from '@jest/globals';
import { act, cleanup, renderHook } from '@testing-library/react';
import type { ReactNode } from 'react';
import { Provider } from 'react-redux';
import { useLive } from './live.ts';
import { store } from './store.ts';

/** A stream as a browser has it; the test says what comes. */
class Stream {
  static readonly CLOSED = 2;
  static all: Stream[] = [];
  readyState = 1;
  onmessage: ((e: { data: string }) => void) | null = null;
  onerror: (() => void) | null = null;
  constructor() {
    Stream.all.push(this);
  }
  close() {
    this.readyState = 2;
  }
}
const wrapper = ({ children }: { children: ReactNode }) => <Provider store={store}>{children}</Provider>;
const last = () => Stream.all.at(-1)!;
const say = (data: string) => {
  act(() => {
    last().onmessage?.({ data });
  });
};

beforeEach(() => {
  jest.useFakeTimers();
  Stream.all = [];
  globalThis.EventSource = Stream as unknown as typeof EventSource;
});
afterEach(() => {
  cleanup();
  jest.useRealTimers();
});

test('a stream the browser gave up on is opened again; greeted anew the screen looks at everything', () => {
  const signal = jest.fn();
  const dispatched = jest.spyOn(store, 'dispatch');
  renderHook(
    () => {
      useLive(signal);
    },
    { wrapper },
  );
  say('hello');
  expect([Stream.all.length, signal.mock.calls.length]).toEqual([1, 1]);
  // A cut: the browser tries by itself.
  last().readyState = 0;
  last().onerror?.();
  jest.advanceTimersByTime(10_000);
  expect(Stream.all).toHaveLength(1);
  // An answer such as 503: it gives up, we do not.
  last().readyState = Stream.CLOSED;
  last().onerror?.();
  jest.advanceTimersByTime(2_900);
  expect(Stream.all).toHaveLength(1);
  jest.advanceTimersByTime(200);
  expect(Stream.all).toHaveLength(2);
  dispatched.mockClear();
  say('hello');
  act(() => {
    jest.advanceTimersByTime(500);
  });
  expect(signal).toHaveBeenCalledTimes(2);
  expect(dispatched).toHaveBeenCalledTimes(1);
});

test('a burst of changes makes the screen ask once; a page that is left listens no more', () => {
  const dispatched = jest.spyOn(store, 'dispatch');
  const { unmount } = renderHook(
    () => {
      useLive(jest.fn());
    },
    { wrapper },
  );
  say('hello');
  dispatched.mockClear();
  for (const message of ['card 5', 'card 5', 'readings', 'stock']) say(message);
  act(() => {
    jest.advanceTimersByTime(500);
  });
  expect(dispatched).toHaveBeenCalledTimes(1);
  unmount();
  expect(last().readyState).toBe(Stream.CLOSED);
  jest.advanceTimersByTime(10_000);
  expect(Stream.all).toHaveLength(1);
});
