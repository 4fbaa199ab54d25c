import { ref } from 'vue';
import { problem, type Answer, type AnyContract, type Job, type Params, type Query, type Sent } from '@orderly-glyph/schema';
import { routes } from '@orderly-glyph/schema';

export { routes };

/** An answer that says no, with the sentence to show. */
export class ApiProblem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly field?: string,
  ) {
    super(message);
  }
}

type Input<C> = { params?: Params<C>; query?: Partial<Query<C>>; body?: Sent<C>; signal?: AbortSignal };

export function addressOf<C extends AnyContract>(contract: C, input: Pick<Input<C>, 'params' | 'query'> = {}): string {
  const params = (input.params ?? {}) as Record<string, string>;
  const path = contract.path.replace(/:(\w+)/g, (_, name: string) => encodeURIComponent(params[name] ?? ''));
  const query = new URLSearchParams(
    Object.entries((input.query ?? {}) as Record<string, string | undefined>).filter((e): e is [string, string] => e[1] !== undefined),
  ).toString();
  return query ? `${path}?${query}` : path;
}

const problemOf = async (response: Response): Promise<ApiProblem> => problemIn(response.status, await response.text().catch(() => ''));

/** What an answer that says no says; a proxy in between may answer with a page, or with nothing. */
function problemIn(status: number, text: string): ApiProblem {
  let parsed: ReturnType<typeof problem.safeParse> | null = null;
  try {
    parsed = problem.safeParse(JSON.parse(text));
  } catch {
    // Said below.
  }
  if (parsed?.success) return new ApiProblem(status, parsed.data.error.code, parsed.data.error.message, parsed.data.error.field);
  if (status === 0) return unreachable();
  return status === 413
    ? new ApiProblem(
        413,
        'too-large',
        'Something between you and the server takes no files of this size. Nothing was kept; send smaller parts, or ask whoever runs the server to let larger ones through.',
      )
    : new ApiProblem(status, 'unknown', 'The server gave an answer we do not understand. Nothing was changed; try again.');
}

const unreachable = (): ApiProblem =>
  new ApiProblem(0, 'unreachable', 'The server does not answer. What you entered is still here; see that it runs, then try again.');

/** Seconds that an answer is waited for in place; what takes longer is followed as a task. */
const PATIENCE_S = 1;

/** Asks a route. What takes longer than a moment is carried out as a job, which is followed to its end. */
async function ask<C extends AnyContract>(contract: C, input: Input<C>, init: RequestInit): Promise<Response> {
  let response: Response;
  try {
    response = await fetch(addressOf(contract, input), {
      method: contract.method,
      credentials: 'same-origin',
      ...init,
      headers: { ...(init.headers as Record<string, string>), ...(contract.job ? { prefer: `respond-async, wait=${PATIENCE_S}` } : {}) },
      ...(input.signal ? { signal: input.signal } : {}),
    });
  } catch (error) {
    if (error instanceof DOMException && error.name === 'AbortError') throw error;
    throw unreachable();
  }
  if (response.status === 202) response = await resultOf(response, input.signal);
  if (!response.ok) throw await problemOf(response);
  return response;
}

/** Waits for a job that was begun, and fetches what came of it. */
async function resultOf(accepted: Response, signal?: AbortSignal): Promise<Response> {
  const { job } = (await accepted.json()) as { job: Job };
  await followWork(job, signal);
  return fetch(addressOf(routes.jobResult, { params: { jobId: job.id } }), { credentials: 'same-origin' }).catch(() => {
    throw unreachable();
  });
}

const sent = <C extends AnyContract>(contract: C, input: Input<C>): RequestInit =>
  contract.method === 'GET' || contract.method === 'DELETE'
    ? {}
    : { headers: { 'content-type': 'application/json' }, body: JSON.stringify(input.body ?? {}) };

/** Calls a route; the answer is checked against the same schema the server used. */
export async function call<C extends AnyContract>(contract: C, input: Input<C> = {}): Promise<Answer<C>> {
  const answer: unknown = await (await ask(contract, input, sent(contract, input))).json();
  // Long lists were checked by the server before it kept them; checking thousands of lines again would be felt.
  return (contract.carries === 'text' ? answer : contract.answer.parse(answer)) as Answer<C>;
}

/** Bytes of a route that carries them. */
export async function callBytes<C extends AnyContract>(contract: C, input: Input<C> = {}): Promise<ArrayBuffer> {
  return (await ask(contract, input, sent(contract, input))).arrayBuffer();
}

/** Calls a route whose request body is a file as it is. */
export async function callUpload<C extends AnyContract>(
  contract: C,
  input: Pick<Input<C>, 'params' | 'query' | 'signal'>,
  file: Blob,
): Promise<Answer<C>> {
  const response = await ask(contract, input, { headers: { 'content-type': 'application/octet-stream' }, body: file });
  return contract.answer.parse(await response.json()) as Answer<C>;
}

/** Addresses that give a file and may take a while: pressing their links begins a task instead of waiting for an empty page. */
const SLOW = (Object.values(routes) as AnyContract[])
  .filter((c) => c.method === 'GET' && c.carries === 'bytes' && c.job !== undefined)
  .map((c) => new RegExp(`^${c.path.replace(/[.]/g, '\\.').replace(/:\w+/g, '[^/]+')}$`));

/** Whether a link leads to a file that is made when it is asked for. */
export const isSlowFile = (address: string): boolean => {
  const { pathname, origin } = new URL(address, location.href);
  return origin === location.origin && SLOW.some((s) => s.test(pathname));
};

/** Has a file made and saves it. */
export async function fetchFile(address: string): Promise<void> {
  const response = await fetch(address, { credentials: 'same-origin', headers: { prefer: 'respond-async, wait=0' } }).catch(() => {
    throw unreachable();
  });
  if (!response.ok) throw await problemOf(response);
  if (response.status !== 202) throw new ApiProblem(response.status, 'unknown', 'The server gave an answer we do not understand.');
  const { job } = (await response.json()) as { job: Job };
  const ended = await followWork(job);
  const result = addressOf(routes.jobResult, { params: { jobId: job.id } });
  if (ended.state !== 'done') throw await problemOf(await fetch(result, { credentials: 'same-origin' }));
  saveFile(result);
}

/** Lets the browser save what is at an address, without leaving the page. */
export function saveFile(address: string): void {
  const link = document.createElement('a');
  link.href = address;
  link.download = '';
  document.body.append(link);
  link.click();
  link.remove();
}

/** Work that this page waits for, or that waits for whoever comes back. */
export const works = ref<Job[]>([]);
const followed = new Set<string>();
const put = (job: Job): void => {
  const at = works.value.findIndex((w) => w.id === job.id);
  if (at < 0) works.value.push(job);
  else works.value[at] = job;
};
const drop = (id: string): void => void (works.value = works.value.filter((w) => w.id !== id));

/** Follows a job until it ends, in everybody's sight; what stops the waiting stops the job as well. */
function followWork(job: Job, signal?: AbortSignal): Promise<Job> {
  followed.add(job.id);
  put(job);
  return new Promise((resolve, reject) => {
    const leave = (): void => {
      stop();
      drop(job.id);
      signal?.removeEventListener('abort', aborted);
    };
    const stop = watchJob(job.id, (now) => {
      if (['queued', 'running', 'receiving'].includes(now.state)) return put(now);
      leave();
      resolve(now);
    });
    const aborted = (): void => {
      leave();
      void cancelWork(job.id).catch(() => undefined);
      reject(new DOMException('Stopped', 'AbortError'));
    };
    signal?.addEventListener('abort', aborted);
  });
}

export const cancelWork = (jobId: string): Promise<Job> => call(routes.cancelJob, { params: { jobId } });

/** Puts away what ended while nobody waited for it. */
export async function dismissWork(jobId: string): Promise<void> {
  drop(jobId);
  await call(routes.dismissJob, { params: { jobId } }).catch(() => undefined);
}

/** Finds what was begun before this page was loaded: it goes on, or its result waits. */
export async function findWork(): Promise<void> {
  const found = await call(routes.listJobs).catch(() => []);
  for (const job of found.reverse()) {
    if (followed.has(job.id)) continue;
    followed.add(job.id);
    put(job);
    if (job.state === 'running' || job.state === 'queued') watchJob(job.id, (now) => (now.state === 'cancelled' ? drop(now.id) : put(now)));
  }
}

/** Forgets everything, as when somebody signs out. */
export function forgetWork(): void {
  works.value = [];
  followed.clear();
}

/** Keeps a file with a license as evidence. */
export const sendEvidence = (licenseId: string, file: File): Promise<Answer<(typeof routes)['addEvidence']>> =>
  callUpload(routes.addEvidence, { params: { licenseId }, query: { name: file.name } }, file);

/** Sends one file with progress in bytes; XMLHttpRequest, because fetch tells nothing of what was sent. */
export function upload(intakeId: string, name: string, file: Blob, progress: (sent: number) => void, signal: AbortSignal): Promise<void> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open('POST', addressOf(routes.uploadFile, { params: { intakeId }, query: { name } }));
    request.setRequestHeader('content-type', 'application/octet-stream');
    request.upload.onprogress = (event) => progress(event.loaded);
    request.onload = () => {
      if (request.status >= 200 && request.status < 300) return resolve();
      reject(problemIn(request.status, request.responseText));
    };
    request.onerror = () => reject(unreachable());
    request.onabort = () => reject(new DOMException('Cancelled', 'AbortError'));
    signal.addEventListener('abort', () => request.abort());
    request.send(file);
  });
}

/** Follows a job until it ends; falls back to asking when the stream breaks, so a restarted server does no harm. */
export function watchJob(jobId: string, seen: (job: Job) => void): () => void {
  const source = new EventSource(addressOf(routes.watchJob, { params: { jobId } }));
  source.onmessage = (event) => {
    const job = routes.getJob.answer.parse(JSON.parse(event.data as string));
    seen(job);
    if (job.state !== 'queued' && job.state !== 'running') source.close();
  };
  return () => source.close();
}

export const sentence = (error: unknown): string =>
  error instanceof ApiProblem
    ? error.message
    : 'Something went wrong here in the browser. Nothing was lost; reload the page and try again.';
