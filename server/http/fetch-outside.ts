import ipaddr from 'ipaddr.js';
import { lookup as lookUp, type LookupAddress } from 'node:dns';
import { request as requestHttp, type IncomingMessage, type RequestOptions } from 'node:http';
import { request as requestHttps } from 'node:https';
import { isIP } from 'node:net';

const TIMEOUT_MS = 20_000;
const MOST_REDIRECTS = 3;

/** What is asked of a machine elsewhere, and the words where it does not go. */
export interface Outside {
  /** The type of the answer. */
  accept: string;
  mostBytes: number;
  /** The same words whatever is there: who names an address learns nothing of the machines behind this one. */
  cannot: string;
  tooLarge: string;
  /** JSON that is sent; left out = only asked. What is sent follows no redirect. */
  sends?: string;
}

/** What cannot be read elsewhere: `message` for the person, `why` for the log. Neither holds the address. */
export class Unreachable extends Error {
  readonly why: string;
  constructor(why: string, message: string) {
    super(message);
    this.why = why;
  }
}
/** Why nothing is read, before it has words for the person. */
class Barred extends Error {}

/** Whether an address is of the open internet: no loopback, private, link-local or otherwise special one. */
export function isOpenAddress(address: string): boolean {
  if (!ipaddr.isValid(address)) return false;
  // IPv4 in IPv6 clothes is judged as what it is.
  return ipaddr.process(address).range() === 'unicast';
}

/** Whether the setting names this host ("192.168.1.5" or "127.0.0.1:4151"): then it may be of this network. */
const named = (url: URL, allowed: string[]) =>
  allowed.includes(url.hostname) || allowed.includes(url.host) || allowed.includes(`${url.hostname}:${portOf(url)}`);
const portOf = (url: URL) => url.port || (url.protocol === 'https:' ? '443' : '80');

/** Looks a name up once; the connection goes to what was found and judged, not to what a second question may answer. */
function guardedLookup(allow: boolean): NonNullable<RequestOptions['lookup']> {
  return (host, options, done) => {
    lookUp(host, { ...options, all: true }, (error, found) => {
      const addresses: LookupAddress[] = error ? [] : found;
      if (error) done(error, '', 0);
      else if (!allow && !addresses.every((a) => isOpenAddress(a.address)))
        done(new Barred('a private address'), '', 0);
      else if (options.all) (done as unknown as (e: null, a: LookupAddress[]) => void)(null, addresses);
      else done(null, addresses[0]!.address, addresses[0]!.family);
    });
  };
}

function ask(url: URL, allow: boolean, { accept, sends }: Outside, signal: AbortSignal): Promise<IncomingMessage> {
  const host = url.hostname.replaceAll(/^\[|\]$/g, '');
  // An address by itself is not looked up.
  if (!allow && isIP(host) !== 0 && !isOpenAddress(host)) throw new Barred('a private address');
  return new Promise((resolve, reject) => {
    const request = url.protocol === 'https:' ? requestHttps : requestHttp;
    const headers = {
      accept,
      ...(sends !== undefined && { 'content-type': 'application/json', 'content-length': Buffer.byteLength(sends) }),
    };
    const method = sends === undefined ? 'GET' : 'POST';
    request(url, { method, headers, lookup: guardedLookup(allow), signal, agent: false }, resolve)
      .once('error', reject)
      .end(sends);
  });
}

async function textOf(reply: IncomingMessage, { mostBytes, tooLarge }: Outside): Promise<string> {
  const chunks: Buffer[] = [];
  let size = 0;
  for await (const chunk of reply as AsyncIterable<Buffer>) {
    size += chunk.length;
    if (size > mostBytes) throw new Unreachable('too large', tooLarge);
    chunks.push(chunk);
  }
  return Buffer.concat(chunks).toString('utf8');
}

/**
 * The text at a web address (OWASP, server side request forgery prevention): only http and https, only the open
 * internet
 * but for hosts the setting names, each redirect judged alike.
 * @param ends calls it off
 * @throws Unreachable
 */
export async function fetchOutside(
  address: string,
  allowed: string[],
  what: Outside,
  ends?: AbortSignal,
): Promise<string> {
  const timeout = AbortSignal.timeout(TIMEOUT_MS);
  const signal = ends ? AbortSignal.any([timeout, ends]) : timeout;
  try {
    let url = new URL(address);
    for (let redirects = 0; redirects <= MOST_REDIRECTS; redirects++) {
      if (url.protocol !== 'http:' && url.protocol !== 'https:') throw new Barred('not by http');
      const reply = await ask(url, named(url, allowed), what, signal);
      const status = reply.statusCode ?? 0;
      const further = reply.headers.location;
      if (what.sends === undefined && status >= 300 && status < 400 && further !== undefined) {
        reply.destroy();
        url = new URL(further, url);
        continue;
      }
      if (status !== 200) {
        reply.destroy();
        throw new Barred(`answers ${status}`);
      }
      return await textOf(reply, what);
    }
    throw new Barred('redirects on and on');
  } catch (error) {
    if (error instanceof Unreachable) throw error;
    if (error instanceof Barred) throw new Unreachable(error.message, what.cannot);
    const { code, name } = error as { code?: string; name?: string };
    throw new Unreachable(code ?? name ?? 'no answer', what.cannot);
  }
}
