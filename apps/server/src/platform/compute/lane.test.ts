import { jest } from '@jest/globals';
import type { Doer, Listeners, Order } from './doers.js';
import { Lane, type LaneOptions, type Waiting } from './lane.js';
import { READING } from './lanes.js';
import type { TaskFailure } from './tasks.js';

/** Workers of a test: each order ends when the test says so, and time of the processor is what the test says it took. */
class Stage {
  readonly running: { owner: string; end(): void; doer: Doer & { time: number }; nice: boolean }[] = [];
  readonly log: string[] = [];
  started = 0;
  mayComeForward = false;
  private next = 1;
  readonly lane: Lane;

  constructor(options: Partial<LaneOptions> = {}) {
    this.lane = new Lane({ size: 2, reserve: 1, bounds: READING, mostWaiting: 10, open: (l) => this.open(l), ...options });
  }

  private open(listeners: Listeners): Doer {
    this.started++;
    const doer: Doer & { time: number; ended: boolean } = {
      time: 0,
      ended: false,
      send: (order: Order) => {
        const entry = {
          owner: String(order.args[0]),
          doer,
          nice: false,
          end: () => {
            this.running.splice(this.running.indexOf(entry), 1);
            listeners.reply({ id: order.id, value: order.args[0] });
          },
        };
        this.running.push(entry);
      },
      end: () => {
        doer.ended = true;
        const at = this.running.findIndex((r) => r.doer === doer);
        if (at >= 0) this.running.splice(at, 1);
      },
      memory: () => null,
      cpu: () => doer.time,
      comeForward: () => this.mayComeForward,
      stepBack: () => {
        this.running.find((r) => r.doer === doer)!.nice = true;
        return true;
      },
    };
    queueMicrotask(() => listeners.reply({ ready: '' }));
    return doer;
  }

  ask(owner: string, more: Partial<Waiting> = {}): Promise<string> & { id: number; taken: boolean } {
    const id = this.next++;
    let taken = true;
    const done = new Promise<string>((resolve) => {
      taken = this.lane.add({
        id,
        task: 'plain',
        args: [owner],
        owner,
        urgent: false,
        limitMs: 1000,
        progress: null,
        resolve: () => {
          this.log.push(owner);
          resolve('done');
        },
        reject: (failure: TaskFailure) => {
          this.log.push(`${owner}: ${failure.code}`);
          resolve(failure.code);
        },
        ...more,
      });
    });
    return Object.assign(done, { id, taken });
  }
  owners = (): string[] => this.running.map((r) => r.owner);
}
const settle = (): Promise<void> => new Promise((r) => setImmediate(r));

test('workspaces take turns, however much one of them asks for, and another’s first order does not wait at all', async () => {
  const stage = new Stage();
  for (let i = 0; i < 8; i++) void stage.ask('many');
  await settle();
  // The third worker is kept for somebody else.
  expect(stage.owners()).toEqual(['many', 'many']);
  void stage.ask('other');
  void stage.ask('other');
  await settle();
  expect(stage.owners()).toEqual(['many', 'many', 'other']);
  // With as many running, the next is of whoever was served longest ago; then of whoever has least running.
  stage.running[0]!.end();
  await settle();
  expect(stage.owners()).toEqual(['many', 'other', 'many']);
  stage.running[0]!.end();
  await settle();
  expect(stage.owners()).toEqual(['other', 'many', 'other']);
  const order: string[] = [];
  while (stage.running.length > 0) {
    order.push(stage.running[0]!.owner);
    stage.running[0]!.end();
    await settle();
  }
  expect([order.filter((o) => o === 'many').length, order.length]).toEqual([6, 8]);
});

test('three owners with much to do are served evenly', async () => {
  const stage = new Stage({ size: 1, reserve: 0, mostWaiting: 50 });
  for (const owner of ['a', 'b', 'c']) for (let i = 0; i < 5; i++) void stage.ask(owner);
  await settle();
  for (let i = 0; i < 9; i++) {
    stage.running[0]!.end();
    await settle();
  }
  expect(stage.log.slice(0, 9).sort().join('')).toBe('aaabbbccc');
});

test('more than may wait is not taken', async () => {
  const stage = new Stage({ size: 1, reserve: 0, mostWaiting: 3 });
  const taken = Array.from({ length: 6 }, () => stage.ask('a').taken);
  expect(taken).toEqual([true, true, true, true, false, false]);
  expect(stage.ask('b').taken).toBe(true);
});

test('a task is ended by what it took of the processor, never by the clock before the backstop', async () => {
  const clock = jest.spyOn(performance, 'now');
  try {
    let now = 0;
    clock.mockImplementation(() => now);
    const stage = new Stage({ size: 1, reserve: 0 });
    const slow = stage.ask('a', { limitMs: 60_000 });
    await settle();
    // Nine minutes by the clock on a machine that gave it a second: sound files were refused like that.
    now = 9 * 60_000;
    stage.running[0]!.doer.time = 1000;
    stage.lane.watch();
    expect(stage.owners()).toEqual(['a']);
    stage.running[0]!.doer.time = 60_001;
    stage.lane.watch();
    expect(await slow).toBe('too-slow');
    // Nothing of the processor, for longer than any machine is busy: that is the machine, not the task.
    const stuck = stage.ask('b', { limitMs: 1000 });
    await settle();
    now += 29_000;
    stage.lane.watch();
    expect(stage.owners()).toEqual(['b']);
    now += 2000;
    stage.lane.watch();
    expect(await stuck).toBe('busy');
  } finally {
    clock.mockRestore();
  }
});

test('what takes long steps back, and its worker is not used again where it stays behind', async () => {
  const stage = new Stage({ size: 1, reserve: 0 });
  const long = stage.ask('a', { limitMs: 60_000 });
  await settle();
  const [first] = stage.running;
  first!.doer.time = 1400;
  stage.lane.watch();
  expect(first!.nice).toBe(false);
  first!.doer.time = 1600;
  stage.lane.watch();
  expect(first!.nice).toBe(true);
  first!.end();
  expect(await long).toBe('done');
  void stage.ask('a', { limitMs: 60_000 });
  await settle();
  expect([stage.started, stage.running[0]!.doer === first!.doer]).toEqual([2, false]);
  // Where the system lets it come forward again, it is kept: starting another one costs a second.
  stage.mayComeForward = true;
  const [second] = stage.running;
  second!.doer.time = 1600;
  stage.lane.watch();
  second!.end();
  void stage.ask('a');
  await settle();
  expect([stage.started, stage.running[0]!.doer === second!.doer]).toEqual([2, true]);
});

test('an order is taken back where it waits and where it runs', async () => {
  const stage = new Stage({ size: 1, reserve: 0 });
  const [running, waiting, last] = [stage.ask('a'), stage.ask('a'), stage.ask('a')];
  await settle();
  stage.lane.withdraw(waiting.id);
  expect(await waiting).toBe('cancelled');
  stage.lane.withdraw(running.id);
  expect(await running).toBe('cancelled');
  await settle();
  stage.running[0]!.end();
  expect(await last).toBe('done');
});
