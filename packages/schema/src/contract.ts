import type { z } from 'zod';
import type { Role } from './words.js';

export type Method = 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE';

/**
 * One route: what goes in, what comes out, who may call it. Server, browser, OpenAPI document and the
 * access tests all work from these, so a route cannot exist without saying who may use it.
 */
export interface Contract<P extends z.ZodType, Q extends z.ZodType, B extends z.ZodType, A extends z.ZodType> {
  method: Method;
  /** Express path; parameters as `:name`. */
  path: string;
  /** 'public' needs no session, 'account' a session without a workspace, the rest at least that role. */
  access: 'public' | 'account' | Role;
  summary: string;
  params: P;
  query: Q;
  body: B;
  answer: A;
  /** What a call may change of what is kept in memory: the list of the library, or nothing of it. Reading changes nothing. */
  affects: 'library' | 'nothing';
  /** Closed to visitors of the sample business, who share one account: people, places and accounts. */
  notInDemo?: true;
  /** How the answer travels where it is not JSON checked on both sides: 'text' is JSON that the handler writes, checked once. */
  carries?: 'upload' | 'bytes' | 'events' | 'text';
}

export type AnyContract = Contract<z.ZodType, z.ZodType, z.ZodType, z.ZodType>;
export type Params<C> = C extends Contract<infer P, z.ZodType, z.ZodType, z.ZodType> ? z.infer<P> : never;
export type Query<C> = C extends Contract<z.ZodType, infer Q, z.ZodType, z.ZodType> ? z.infer<Q> : never;
export type Body<C> = C extends Contract<z.ZodType, z.ZodType, infer B, z.ZodType> ? z.infer<B> : never;
/** What a caller sends: fields with defaults may be left out. */
export type Sent<C> = C extends Contract<z.ZodType, z.ZodType, infer B, z.ZodType> ? z.input<B> : never;
export type Answer<C> = C extends Contract<z.ZodType, z.ZodType, z.ZodType, infer A> ? z.infer<A> : never;
