import { afterEach, describe, expect, jest, test } from '@jest/globals';
import { secondsFor, ServerRun, type RunNews } from './run.ts';

const visit = { boat: 'b', day: 0, technician: 't', start: 480, elapsed: 60, tasks: ['x'] };
const usual = globalThis.fetch;
afterEach(() => {
  globalThis.fetch = usual;
});

/** A server whose reply the test writes piece by piece. */
function server(status = 200, body?: string) {
  let out!: ReadableStreamDefaultController<Uint8Array>;
  const asked: { url: string; init: RequestInit }[] = [];
  globalThis.fetch = jest.fn<typeof fetch>((url, init) => {
    asked.push({ url: url as string, init: init! });
    if (body !== undefined) return Promise.resolve(new Response(body, { status }));
    const stream = new ReadableStream<Uint8Array>({
      start: (c) => {
        out = c;
      },
    });
    // A browser ends the body of a request that was called off with an error.
    init!.signal!.addEventListener('abort', () => {
      out.error(new DOMException('aborted', 'AbortError'));
    });
    return Promise.resolve(new Response(stream, { status }));
  });
  return {
    asked,
    write: (text: string) => {
      out.enqueue(new TextEncoder().encode(text));
    },
    close: () => {
      out.close();
    },
    cut: () => {
      out.error(new TypeError('network error'));
    },
  };
}

function run(seconds = 10) {
  const heard: RunNews[] = [];
  let end!: () => void;
  const over = new Promise<void>((resolve) => {
    end = resolve;
  });
  const it = new ServerRun({ days: 42 }, 'token', seconds, (news) => {
    heard.push(news);
    if (news.over) end();
  });
  return {
    it,
    heard,
    last: async () => {
      await over;
      return heard.at(-1)!;
    },
  };
}
const settle = () => new Promise((resolve) => setTimeout(resolve, 5));
const line = (m: object) => `${JSON.stringify(m)}\n`;
const PLAN = line({ say: 'plan', visits: [visit], cost: 90, bound: null });

describe('a plan worked out on the server', () => {
  test('is asked for with the token; what it says arrives line by line, however it is cut', async () => {
    const { asked, write, close } = server();
    const { heard, last } = run();
    await settle();
    expect(asked[0]).toMatchObject({
      url: '/api/plan/compute',
      init: { method: 'POST', headers: { 'x-diurna-token': 'token' }, body: JSON.stringify({ days: 42, seconds: 10 }) },
    });
    const whole =
      line({ say: 'progress', cost: 120, bound: 60, seconds: 2.5 }) +
      PLAN +
      line({ say: 'plan', visits: [visit, { ...visit, boat: 'Möwe' }], cost: 80, bound: 75 });
    // In the middle of a line, and of a letter of two bytes.
    const bytes = new TextEncoder().encode(whole);
    const cut = whole.indexOf('ö') + 1;
    write(new TextDecoder().decode(bytes.slice(0, 20)));
    await settle();
    expect(heard).toEqual([]);
    write(new TextDecoder().decode(bytes.slice(20, cut - 1)));
    await settle();
    expect(heard[0]).toMatchObject({ bound: 60, share: 0.25, visits: [], cost: Infinity });
    expect(heard[1]).toMatchObject({ visits: [visit], cost: 90, bound: 60, over: false });
    write(new TextDecoder().decode(bytes.slice(cut - 1)));
    close();
    expect(await last()).toMatchObject({ cost: 80, bound: 75, over: true, share: 1, broken: null, faults: null });
    expect(heard.at(-1)!.visits[1]!.boat).toBe('Möwe');
  });

  test('stopped, the best plan so far is the plan', async () => {
    const { write } = server();
    const { it, last } = run();
    await settle();
    write(PLAN + line({ say: 'progress', cost: 70, bound: 60, seconds: 1 }));
    await settle();
    it.stop();
    // 70 was said, but its plan never came.
    expect(await last()).toMatchObject({ visits: [visit], cost: 90, over: true, broken: null });
  });

  test('stopped before there was one: no plan, and nothing to take for one', async () => {
    const { write } = server();
    const { it, last } = run();
    await settle();
    write(line({ say: 'progress', cost: 120, bound: null, seconds: 0.1 }));
    await settle();
    it.stop();
    expect(await last()).toMatchObject({ visits: [], cost: Infinity, over: true, broken: null });
  });

  test('pins that cannot be kept are told', async () => {
    const { write, close } = server();
    const { last } = run();
    await settle();
    write(line({ say: 'pins', faults: ['the boat is out all day'] }));
    close();
    expect(await last()).toMatchObject({ faults: ['the boat is out all day'], over: true });
  });

  test('the line breaks, or the server breaks off: said so, and the best plan so far holds', async () => {
    const cut = server();
    const first = run();
    await settle();
    cut.write(PLAN);
    await settle();
    cut.cut();
    expect(await first.last()).toMatchObject({
      visits: [visit],
      cost: 90,
      over: true,
      broken: expect.stringContaining('does not answer'),
    });
    const off = server();
    const second = run();
    await settle();
    off.write(PLAN + line({ say: 'broken', text: 'The server broke off while planning.' }));
    off.close();
    expect(await second.last()).toMatchObject({ cost: 90, over: true, broken: 'The server broke off while planning.' });
  });

  test('a refusal is told in its own words', async () => {
    server(503, JSON.stringify({ detail: 'Two plans are being worked out just now. Try again in a minute.' }));
    expect(await run().last()).toMatchObject({
      broken: 'Two plans are being worked out just now. Try again in a minute.',
      faults: null,
      over: true,
      cost: Infinity,
    });
    server(502, '<html>no JSON</html>');
    expect(await run().last()).toMatchObject({ broken: expect.stringContaining('does not answer'), over: true });
  });
});

test('more tasks are given more time', () => {
  const times = [10, 120, 121, 400, 800, 801, 10_000].map(secondsFor);
  expect(times).toEqual([...times].sort((a, b) => a - b));
});
