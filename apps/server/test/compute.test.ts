import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import type { Compute as Pool } from '../src/platform/compute/pool.js';
import { readFont } from '../../../packages/core/test/fonts.js';

// The built one, since its workers are files of their own.
const { Compute } = (await import(join(process.cwd(), 'apps/server/dist/platform/compute/pool.js'))) as {
  Compute: new (size: number, limits?: Record<string, number>) => Pool;
};

const children = (): number[] =>
  execFileSync('ps', ['-o', 'pid=,args=', '--ppid', String(process.pid)], { encoding: 'utf8' })
    .split('\n')
    .filter((l) => l.includes('compute/child.js'))
    .map((l) => parseInt(l, 10));

test('a worker that hangs is ended with a sentence, and what waits behind it is carried out', async () => {
  const compute = new Compute(1, { rehearse: 700 });
  try {
    const hanging = compute.run('rehearse', [60_000]);
    const behind = compute.run('inspect', [readFont('gochiHand'), 'a.ttf']);
    await expect(hanging).rejects.toMatchObject({
      failure: { code: 'too-slow' },
      gaveUp: true,
      message: expect.stringMatching(/more than 1 seconds of computing time/),
    });
    expect((await behind).faces.length).toBe(1);
  } finally {
    await compute.close();
  }
});

test('a process that is killed fails its own task and no other', async () => {
  const compute = new Compute(1);
  try {
    const lost = compute.run('rehearse', [60_000]);
    const failed = expect(lost).rejects.toMatchObject({ failure: { code: 'died' }, message: expect.stringMatching(/came to an end/) });
    const behind = compute.run('inspect', [readFont('gochiHand'), 'a.ttf']);
    while (children().length === 0) await new Promise((r) => setTimeout(r, 50));
    process.kill(children()[0]!, 'SIGKILL');
    await failed;
    expect((await behind).faces.length).toBe(1);
  } finally {
    await compute.close();
  }
});
