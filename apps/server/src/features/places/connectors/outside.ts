import { lookup as resolveName, type LookupAddress, type LookupOptions } from 'node:dns';
import { request as httpRequest, type RequestOptions } from 'node:http';
import { request as httpsRequest } from 'node:https';
import { BlockList, connect, isIP, type Socket } from 'node:net';

/** Networks that no place on the internet is in. Sources: RFC 6890 and its updates, RFC 4193, RFC 4291. */
const PRIVATE = new BlockList();
for (const [net, bits] of [
  ['0.0.0.0', 8],
  ['10.0.0.0', 8],
  ['100.64.0.0', 10],
  ['127.0.0.0', 8],
  ['169.254.0.0', 16],
  ['172.16.0.0', 12],
  ['192.0.0.0', 24],
  ['192.168.0.0', 16],
  ['198.18.0.0', 15],
  ['224.0.0.0', 4],
  ['240.0.0.0', 4],
] as const)
  PRIVATE.addSubnet(net, bits, 'ipv4');
for (const [net, bits] of [
  ['::', 127],
  ['64:ff9b::', 96],
  ['fc00::', 7],
  ['fe80::', 10],
  ['ff00::', 8],
] as const)
  PRIVATE.addSubnet(net, bits, 'ipv6');

/** Whether an address lies where no place on the internet does; addresses of the old kind written as new ones count, too. */
export function isPrivate(address: string): boolean {
  const plain = address.replace(/^::ffff:(?=\d+\.)/i, '');
  const kind = isIP(plain);
  return kind === 0 || PRIVATE.check(plain, kind === 4 ? 'ipv4' : 'ipv6');
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
    resolveName(host, { all: true }, (error, found) => {
      if (error) return reject(new OutsideError(error.message, 'unreachable'));
      const [first] = found;
      if (!first) return reject(new OutsideError(`${host} leads nowhere.`, 'unreachable'));
      if (!free && found.some((f) => isPrivate(f.address)))
        return reject(new OutsideError(`${host} leads into a private network.`, 'private'));
      const socket = connect({ host: first.address, port });
      const timer = setTimeout(() => socket.destroy(new Error('It took too long.')), withinMs);
      socket.once('connect', () => {
        clearTimeout(timer);
        socket.removeAllListeners('error');
        resolve(socket);
      });
      socket.once('error', (e) => {
        clearTimeout(timer);
        reject(new OutsideError(e.message, 'unreachable'));
      });
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
  return new Promise((resolve, reject) => {
    // A bare address is connected to without a look-up.
    const bare = address.hostname.replace(/^\[|\]$/g, '');
    if (!free && isIP(bare) !== 0 && isPrivate(bare)) return reject(new OutsideError(`${bare} lies in a private network.`, 'private'));
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
    const broken = (): 'unanswered' | 'unreachable' => (connected ? 'unanswered' : 'unreachable');
    const request = (address.protocol === 'https:' ? httpsRequest : httpRequest)(address, settings);
    const timer = setTimeout(() => request.destroy(new OutsideError('It took too long.', broken())), withinMs);
    request.on('socket', (socket) => socket.once('connect', () => (connected = true)));
    request.on('error', (error) => {
      clearTimeout(timer);
      if (error instanceof OutsideError) return reject(error);
      // Nothing of the request is sent before the certificate holds.
      reject(new OutsideError(error.message, CERTIFICATE.test((error as NodeJS.ErrnoException).code ?? '') ? 'untrusted' : broken()));
    });
    request.on('response', (response) => {
      const status = response.statusCode ?? 0;
      if (status >= 300 && status < 400) return request.destroy(new OutsideError('It sends us elsewhere.', 'moved'));
      const parts: Buffer[] = [];
      let bytes = 0;
      response.on('data', (part: Buffer) => {
        bytes += part.length;
        if (bytes > mostBytes) request.destroy(new OutsideError('Its answer has no end.', 'too-large'));
        else parts.push(part);
      });
      response.on('error', (error) => reject(error instanceof OutsideError ? error : new OutsideError(error.message, 'unanswered')));
      response.on('end', () => {
        clearTimeout(timer);
        resolve({
          status,
          headers: Object.fromEntries(Object.entries(response.headers).map(([k, v]) => [k, Array.isArray(v) ? v.join(', ') : v])),
          body: Buffer.concat(parts),
        });
      });
      response.on('close', () => {
        clearTimeout(timer);
        if (!response.complete) reject(new OutsideError('Its answer broke off.', 'unanswered'));
      });
    });
    request.end(options.body);
  });
}
