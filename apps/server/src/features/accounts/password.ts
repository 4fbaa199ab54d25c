import { createHash, randomBytes, scrypt, timingSafeEqual, type BinaryLike, type ScryptOptions } from 'node:crypto';
import { ZxcvbnFactory } from '@zxcvbn-ts/core';
import { adjacencyGraphs, dictionary } from '@zxcvbn-ts/language-common';
import { HttpProblem, invalid } from '../../platform/http/problem.js';

// Cost by OWASP's password storage cheat sheet for scrypt: N 2^17, r 8, p 1.
const N = 2 ** 17;
const R = 8;
const P = 1;

/**
 * Hashing takes a thread of Node's pool of four and 128 MiB each. With more than this at once, files and name look-ups would
 * wait behind passwords.
 */
const AT_ONCE = 2;
/** More people than this do not sign in within the half minute they would wait. */
const MOST_WAITING = 80;
let busy = 0;
const waiting: (() => void)[] = [];

async function inTurn<T>(work: () => Promise<T>): Promise<T> {
  if (busy >= AT_ONCE) {
    if (waiting.length >= MOST_WAITING)
      throw new HttpProblem(503, 'busy', 'Too many people sign in at this moment. Nothing was changed; try again in half a minute.');
    await new Promise<void>((resolve) => waiting.push(resolve));
  }
  busy++;
  try {
    return await work();
  } finally {
    busy--;
    waiting.shift()?.();
  }
}

function derive(password: BinaryLike, salt: BinaryLike, options: ScryptOptions): Promise<Buffer> {
  return inTurn(
    () => new Promise((resolve, reject) => scrypt(password, salt, 32, options, (error, key) => (error ? reject(error) : resolve(key)))),
  );
}

const saltOf = (stored: string): string => stored.split('$')[4] ?? '';

/**
 * scrypt (RFC 7914) with its parameters beside it: `scrypt$N$r$p$salt$hash`.
 * @param beside hashes of accounts with the same address: they share a salt, so that one derivation tries them all
 */
export async function hashPassword(password: string, beside: readonly string[] = []): Promise<string> {
  const salt = beside[0] ? Buffer.from(saltOf(beside[0]), 'base64') : randomBytes(16);
  const key = await derive(password.normalize('NFKC'), salt, { N, r: R, p: P, maxmem: 256 * N * R });
  return ['scrypt', N, R, P, salt.toString('base64'), key.toString('base64')].join('$');
}

/** What an unknown address is tried against, so that the answer takes as long as for a known one. */
const nobody = ['scrypt', N, R, P, randomBytes(16).toString('base64'), randomBytes(32).toString('base64')].join('$');

/** Which of some stored hashes a password fits, by its place; -1 for none. One derivation a salt, and at least one. */
export async function findPassword(password: string, stored: readonly string[]): Promise<number> {
  const keys = new Map<string, Buffer>();
  let found = -1;
  for (const [i, hash] of (stored.length > 0 ? stored : [nobody]).entries()) {
    const [, n, r, p, salt, expected] = hash.split('$') as [string, string, string, string, string, string];
    const how = `${n} ${r} ${p} ${salt}`;
    let key = keys.get(how);
    if (!key) {
      key = await derive(password.normalize('NFKC'), Buffer.from(salt, 'base64'), {
        N: Number(n),
        r: Number(r),
        p: Number(p),
        maxmem: 256 * Number(n) * Number(r),
      });
      keys.set(how, key);
    }
    if (timingSafeEqual(key, Buffer.from(expected, 'base64')) && found < 0 && stored.length > 0) found = i;
  }
  return found;
}

let judge: ZxcvbnFactory | null = null;

/**
 * Refuses passwords that are on lists of common ones or made of little else (zxcvbn, score below 2 of 4).
 * @param own words that anybody would try first: the person's name, address and business
 * @throws HttpProblem at the field
 */
export function refuseCommon(password: string, own: readonly string[]): void {
  judge ??= new ZxcvbnFactory({ dictionary, graphs: adjacencyGraphs });
  const parts = own.flatMap((o) => [o, ...o.split(/[^\p{L}\p{N}]+/u)]).filter((o) => o.length > 2);
  // The time it takes grows faster than the length; what is long and begins well is good enough.
  if (judge.check(password.slice(0, 48), parts).score < 2)
    throw invalid(
      'This password is among the first that anybody would try. Take a few words that have nothing to do with each other.',
      'password',
    );
}

/** What the database keeps of a secret that is handed out; a copy of it opens nothing. */
export const tokenHash = (token: string): string => createHash('sha256').update(token).digest('hex');
export const newToken = (): string => randomBytes(32).toString('base64url');
