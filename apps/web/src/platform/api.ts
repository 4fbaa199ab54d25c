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

/** Calls a route; the answer is checked against the same schema the server used. */
export async function call<C extends AnyContract>(contract: C, input: Input<C> = {}): Promise<Answer<C>> {
  let response: Response;
  try {
    response = await fetch(addressOf(contract, input), {
      method: contract.method,
      credentials: 'same-origin',
      ...(contract.method === 'GET' || contract.method === 'DELETE'
        ? {}
        : { headers: { 'content-type': 'application/json' }, body: JSON.stringify(input.body ?? {}) }),
      ...(input.signal ? { signal: input.signal } : {}),
    });
  } catch (error) {
    if (error instanceof DOMException && error.name === 'AbortError') throw error;
    throw unreachable();
  }
  if (!response.ok) throw await problemOf(response);
  const answer: unknown = await response.json();
  // Long lists were checked by the server before it kept them; checking thousands of lines again would be felt.
  return (contract.carries === 'text' ? answer : contract.answer.parse(answer)) as Answer<C>;
}

/** Bytes of a route that carries them. */
export async function callBytes<C extends AnyContract>(contract: C, input: Input<C> = {}): Promise<ArrayBuffer> {
  const response = await fetch(addressOf(contract, input), {
    method: contract.method,
    credentials: 'same-origin',
    ...(input.body === undefined ? {} : { headers: { 'content-type': 'application/json' }, body: JSON.stringify(input.body) }),
    ...(input.signal ? { signal: input.signal } : {}),
  }).catch((error: unknown) => {
    if (error instanceof DOMException && error.name === 'AbortError') throw error;
    throw unreachable();
  });
  if (!response.ok) throw await problemOf(response);
  return response.arrayBuffer();
}

/** Calls a route whose request body is a file as it is. */
export async function callUpload<C extends AnyContract>(
  contract: C,
  input: Pick<Input<C>, 'params' | 'query'>,
  file: Blob,
): Promise<Answer<C>> {
  const response = await fetch(addressOf(contract, input), {
    method: contract.method,
    credentials: 'same-origin',
    headers: { 'content-type': 'application/octet-stream' },
    body: file,
  }).catch(() => {
    throw unreachable();
  });
  if (!response.ok) throw await problemOf(response);
  return contract.answer.parse(await response.json()) as Answer<C>;
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
      if (request.status < 300) return resolve();
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
