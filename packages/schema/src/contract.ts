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
  /** Closed to whoever looks at the sample business: its account is no person's. */
  notInDemo?: true;
  /** How the answer travels where it is not JSON checked on both sides: 'text' is JSON that the handler writes, checked once. */
  carries?: 'upload' | 'bytes' | 'events' | 'text';
  /**
   * It may take longer than a person waits, so it is carried out as a job: 'again' where carrying it out twice does no harm,
   * 'once' where what it changed counts once, however often a server is killed meanwhile.
   */
  job?: 'again' | 'once';
  /** What is being done, in words for whoever waits: "Converting a font". */
  doing?: string;
  /** Nobody wants the result of such a call when whoever asked has gone. */
  whenLeft?: 'stop';
  /** Bytes of a request's JSON at most, where that is not the usual limit. */
  mostBytes?: number;
}

/** Bytes of a request's JSON, where its contract says nothing else. */
export const USUAL_BYTES = 2 * 1024 * 1024;

export type AnyContract = Contract<z.ZodType, z.ZodType, z.ZodType, z.ZodType>;
export type Params<C> = C extends Contract<infer P, z.ZodType, z.ZodType, z.ZodType> ? z.infer<P> : never;
export type Query<C> = C extends Contract<z.ZodType, infer Q, z.ZodType, z.ZodType> ? z.infer<Q> : never;
export type Body<C> = C extends Contract<z.ZodType, z.ZodType, infer B, z.ZodType> ? z.infer<B> : never;
/** What a caller sends: fields with defaults may be left out. */
export type Sent<C> = C extends Contract<z.ZodType, z.ZodType, infer B, z.ZodType> ? z.input<B> : never;
export type Answer<C> = C extends Contract<z.ZodType, z.ZodType, z.ZodType, infer A> ? z.infer<A> : never;
