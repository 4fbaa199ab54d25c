import { ApiProblem, upload } from './api';

/** Stands in for a browser's request: it ends with what a test says a server, or a proxy before it, answered. */
function answering(status: number, text: string): void {
  class Request {
    upload: { onprogress?: unknown } = {};
    status = status;
    responseText = text;
    onload?: () => void;
    open(): void {}
    setRequestHeader(): void {}
    abort(): void {}
    send(): void {
      setTimeout(() => this.onload?.());
    }
  }
  Object.assign(globalThis, { XMLHttpRequest: Request });
}
const outcome = (): Promise<unknown> =>
  upload('11111111-1111-4111-8111-111111111111', 'a.ttf', new Blob(['x']), () => undefined, new AbortController().signal).then(
    () => 'sent',
    (error: unknown) => error,
  );

test.each([
  [413, '<html><head><title>413 Request Entity Too Large</title></head></html>', 413, /takes no files of this size/],
  [502, '<html>Bad Gateway</html>', 502, /do not understand/],
  [500, '', 500, /do not understand/],
  [0, '', 0, /does not answer/],
  [422, '{"error":{"code":"invalid","message":"It is empty."}}', 422, /^It is empty\.$/],
])('an upload that is answered with %i and %j ends with a sentence, and never hangs', async (status, text, code, words) => {
  answering(status, text);
  const error = await outcome();
  expect(error).toBeInstanceOf(ApiProblem);
  expect([(error as ApiProblem).status, (error as ApiProblem).message]).toEqual([code, expect.stringMatching(words)]);
});

test('one that went through ends, too', async () => {
  answering(200, '{}');
  expect(await outcome()).toBe('sent');
});
