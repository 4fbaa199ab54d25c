import { lookup as resolveName, type LookupAddress, type LookupOptions } from 'node:dns';
import { request as httpRequest, type RequestOptions } from 'node:http';
import { request as httpsRequest } from 'node:https';
import { connect, isIP, type Socket } from 'node:net';
import ipaddr from 'ipaddr.js';

/** Addresses of the internet as it is given out. Source: RFC 4291, 2.4, and IANA's registry of IPv6 global unicast (2000::/3). */
const GLOBAL = ipaddr.IPv6.parseCIDR('2000::/3');

/**
 * Whether an address lies where no place on the internet does: only plain unicast addresses count, and those of the old kind
 * written or tunneled in new ones are looked at as what they are.
 */
export function isPrivate(address: string): boolean {
  if (!ipaddr.isValid(address)) return true;
  const found = ipaddr.process(address.replace(/%.*$/, ''));
  if (found.range() !== 'unicast') return true;
  return found.kind() === 'ipv6' && !(found as ipaddr.IPv6).match(GLOBAL);
}

/** Why a place was not reached, for the log; people are told in other words. */
export class OutsideError extends Error {
  constructor(
    message: string,
    /** `unreachable`: the request was not sent. `unanswered`: it was, at least in part, and no whole answer came. */
    readonly kind: 'private' | 'too-large' | 'unreachable' | 'unanswered' | 'moved' | 'untrusted',
  ) {
    super(message);
  }
}

/** How Node.js calls what is wrong with a certificate (its documentation of TLS, X509 certificate error codes). */
const CERTIFICATE = /^(ERR_TLS_CERT|CERT_|DEPTH_ZERO_SELF_SIGNED|SELF_SIGNED_CERT|UNABLE_TO_(GET|VERIFY)|INVALID_CA|HOSTNAME_MISMATCH)/;

export interface OutsideAnswer {
  status: number;
  headers: Readonly<Record<string, string | undefined>>;
  body: Buffer;
}

/** A connection to a host on the internet, checked on the very address that is connected to. @throws OutsideError */
export function connectOutside(host: string, port: number, allowed: ReadonlySet<string>, withinMs: number): Promise<Socket> {
  const free = allowed.has('*') || allowed.has(`${host}:${port}`.toLowerCase());
  return new Promise((resolve, reject) => {
    let over = false;
    let socket: Socket | null = null;
    const end = (kind: OutsideError['kind'], why: string): void => {
      if (over) return;
      over = true;
      clearTimeout(timer);
      socket?.destroy();
      reject(new OutsideError(why, kind));
    };
    // The name's look-up counts as well.
    const timer = setTimeout(() => end('unreachable', 'It took too long.'), withinMs);
    resolveName(host, { all: true }, (error, found) => {
      if (over) return;
      if (error) return end('unreachable', error.message);
      const [first] = found;
      if (!first) return end('unreachable', `${host} leads nowhere.`);
      if (!free && found.some((f) => isPrivate(f.address))) return end('private', `${host} leads into a private network.`);
      socket = connect({ host: first.address, port });
      socket.once('connect', () => {
        if (over) return;
        over = true;
        clearTimeout(timer);
        socket!.removeAllListeners('error');
        resolve(socket!);
      });
      socket.once('error', (e) => end('unreachable', e.message));
    });
  });
}

/**
 * Asks a place. What it answers is read up to a size, all of it within a time; redirects are not followed; and the name must
 * lead to the internet, which is checked on the very address that is connected to, so that it cannot change in between.
 * @param allowed host:port of places in private networks that the operator allows
 * @throws OutsideError
 */
export function askOutside(
  address: URL,
  options: { method: string; headers: Record<string, string>; body?: Uint8Array | string | undefined },
  allowed: ReadonlySet<string>,
  { mostBytes = 4 * 1024 * 1024, withinMs = 30_000 } = {},
): Promise<OutsideAnswer> {
  const port = address.port || (address.protocol === 'https:' ? '443' : '80');
  const free = allowed.has('*') || allowed.has(`${address.hostname}:${port}`.toLowerCase());
  const checked = (
    hostname: string,
    asked: LookupOptions,
    done: (error: NodeJS.ErrnoException | null, address: string | LookupAddress[], family?: number) => void,
  ): void => {
    resolveName(hostname, { ...asked, all: true }, (error, found) => {
      if (error) return done(error, '');
      if (!free && found.some((f) => isPrivate(f.address)))
        return done(new OutsideError(`${hostname} leads into a private network.`, 'private') as never, '');
      if (asked.all) done(null, found);
      else done(null, found[0]!.address, found[0]!.family);
    });
  };
  return new Promise((done, fail) => {
    // A bare address is connected to without a look-up.
    const bare = address.hostname.replace(/^\[|\]$/g, '');
    if (!free && isIP(bare) !== 0 && isPrivate(bare)) return fail(new OutsideError(`${bare} lies in a private network.`, 'private'));
    const settings: RequestOptions = {
      method: options.method,
      headers: {
        ...options.headers,
        ...(options.body === undefined ? {} : { 'content-length': String(Buffer.byteLength(options.body as Uint8Array)) }),
      },
      lookup: checked as never,
      agent: false,
    };
    // Once a connection stands, the place may have read the request, whatever happens afterwards.
    let connected = false;
    let over = false;
    let hints = 0;
    const broken = (): 'unanswered' | 'unreachable' => (connected ? 'unanswered' : 'unreachable');
    const request = (address.protocol === 'https:' ? httpsRequest : httpRequest)(address, settings);
    /** Ends the call and its connection, in whatever state both are. */
    const end = (error: OutsideError): void => {
      if (over) return;
      over = true;
      clearTimeout(timer);
      fail(error);
      request.destroy();
      request.socket?.destroy();
    };
    const timer = setTimeout(() => end(new OutsideError('It took too long.', broken())), withinMs);
    request.on('socket', (socket) => socket.once('connect', () => (connected = true)));
    request.on('error', (error) => {
      if (error instanceof OutsideError) return end(error);
      // Nothing of the request is sent before the certificate holds.
      end(new OutsideError(error.message, CERTIFICATE.test((error as NodeJS.ErrnoException).code ?? '') ? 'untrusted' : broken()));
    });
    // Nobody asked for another protocol, nor for hints without an end.
    request.on('upgrade', (_response, socket) => {
      socket.destroy();
      end(new OutsideError('It answers in another protocol.', 'unanswered'));
    });
    request.on('information', () => {
      if (++hints > MOST_HINTS) end(new OutsideError('It answers without an end.', 'too-large'));
    });
    request.on('response', (response) => {
      const status = response.statusCode ?? 0;
      if (status >= 300 && status < 400) return end(new OutsideError('It sends us elsewhere.', 'moved'));
      const parts: Buffer[] = [];
      let bytes = 0;
      response.on('data', (part: Buffer) => {
        bytes += part.length;
        if (bytes > mostBytes) end(new OutsideError('Its answer has no end.', 'too-large'));
        else parts.push(part);
      });
      response.on('error', (error) => end(new OutsideError(error.message, 'unanswered')));
      response.on('end', () => {
        if (over || !response.complete) return;
        over = true;
        clearTimeout(timer);
        done({
          status,
          headers: Object.fromEntries(Object.entries(response.headers).map(([k, v]) => [k, Array.isArray(v) ? v.join(', ') : v])),
          body: Buffer.concat(parts),
        });
        request.destroy();
      });
      response.on('close', () => end(new OutsideError('Its answer broke off.', 'unanswered')));
    });
    // Whatever else a connection may do, it does not end without an answer here.
    request.on('close', () => end(new OutsideError('It closed the connection.', broken())));
    request.end(options.body);
  });
}

/** Answers of the 100s before the real one. Source: RFC 9110, 15.2, which knows four kinds. */
const MOST_HINTS = 20;
