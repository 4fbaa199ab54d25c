import { randomBytes } from 'node:crypto';
import { routes } from '@orderly-glyph/schema';
import { newMember, newOwner, Person, startServer, type TestServer } from './setup.js';

/** Two servers on one database, since what is counted by one must hold for the other. */
let server: TestServer;
beforeAll(async () => {
  server = await startServer({ LIMIT_SIGN_UPS: '1' });
});
afterAll(() => server.stop());

const mail = (): string => `${randomBytes(6).toString('hex')}@test.example`;
const tokenOf = (path: string): string => path.split('/').pop()!;
const PASSWORD = 'a long password';
/** Each test has all its free tries. */
beforeEach(() => server.sql.query('DELETE FROM sign_in_tries'));

const members = async (owner: Person) => (await owner.call(routes.listMembers)).answer;

describe('resets and invitations', () => {
  test('a reset made by one business opens no other, when the person changed to it meanwhile', async () => {
    const a = await newOwner(server.address, 'A');
    const b = await newOwner(server.address, 'B');
    const person = await newMember(a, 'editor');
    const me = (await members(a)).find((m) => !m.you)!;
    const { answer: reset } = await a.call(routes.resetMember, { params: { memberId: me.id } });
    // A removes the person, B makes them owner: now they have exactly one membership again, and it is not the one of then.
    await a.call(routes.removeMember, { params: { memberId: me.id } });
    const { answer: invited } = await b.call(routes.createInvitation, { body: { role: 'owner', note: '' } });
    await person.call(routes.acceptInvitation, { params: { token: tokenOf(invited.path) }, body: { account: null } });
    const used = await new Person(server.address).call(routes.useReset, {
      params: { token: tokenOf(reset.path) },
      body: { password: 'stolen fair and square' },
    });
    expect(used.status).toBe(404);
    expect((await new Person(server.address).call(routes.signIn, { body: { email: me.email, password: PASSWORD } })).status).toBe(200);
  });

  test('a reset ends with any change of the membership, and when a second one comes', async () => {
    const a = await newOwner(server.address, 'A');
    const b = await newOwner(server.address, 'B');
    const person = await newMember(a, 'editor');
    const me = (await members(a)).find((m) => !m.you)!;
    const make = async (): Promise<string> => tokenOf((await a.call(routes.resetMember, { params: { memberId: me.id } })).answer.path);
    const holds = async (token: string): Promise<boolean> =>
      (await new Person(server.address).call(routes.readReset, { params: { token } })).status === 200;
    const first = await make();
    expect(await holds(first)).toBe(true);
    await a.call(routes.changeMember, { params: { memberId: me.id }, body: { role: 'viewer', version: 1 } });
    expect(await holds(first)).toBe(false);
    const second = await make();
    const { answer: invited } = await b.call(routes.createInvitation, { body: { role: 'viewer', note: '' } });
    await person.call(routes.acceptInvitation, { params: { token: tokenOf(invited.path) }, body: { account: null } });
    expect(await holds(second)).toBe(false);
  });

  test('invitations end with the membership of whoever made them', async () => {
    const owner = await newOwner(server.address, 'Gone');
    const { answer: toSecond } = await owner.call(routes.createInvitation, { body: { role: 'owner', note: '' } });
    const second = new Person(server.address);
    await second.call(routes.acceptInvitation, {
      params: { token: tokenOf(toSecond.path) },
      body: { account: { name: 'Second', email: mail(), password: PASSWORD } },
    });
    const { answer: invited } = await second.call(routes.createInvitation, { body: { role: 'owner', note: '' } });
    const them = (await members(owner)).find((m) => !m.you)!;
    await owner.call(routes.removeMember, { params: { memberId: them.id } });
    expect((await new Person(server.address).call(routes.readInvitation, { params: { token: tokenOf(invited.path) } })).status).toBe(404);
  });
});

test('owners who demote or remove each other at once leave one', async () => {
  for (const act of ['demote', 'remove'] as const) {
    const one = await newOwner(server.address, `Two ${act}`);
    const { answer: invited } = await one.call(routes.createInvitation, { body: { role: 'owner', note: '' } });
    const two = new Person(server.address);
    await two.call(routes.acceptInvitation, {
      params: { token: tokenOf(invited.path) },
      body: { account: { name: 'Two', email: mail(), password: PASSWORD } },
    });
    const all = await members(one);
    const [me, other] = [all.find((m) => m.you)!, all.find((m) => !m.you)!];
    const against = (person: Person, id: string, version: number) =>
      act === 'demote'
        ? person.call(routes.changeMember, { params: { memberId: id }, body: { role: 'viewer' as const, version } })
        : person.call(routes.removeMember, { params: { memberId: id } });
    const answers = await Promise.all([against(one, other.id, other.version), against(two, me.id, me.version)]);
    expect(answers.map((a) => a.status).sort()).toEqual([200, expect.any(Number)]);
    const [[{ n }]] = (await server.sql.query(
      "SELECT COUNT(*) AS n FROM member m JOIN workspace w ON w.id = m.workspace_id WHERE w.name = ? AND m.role = 'owner'",
      [`Two ${act}`],
    )) as unknown as [[{ n: number }]];
    expect([act, Number(n)]).toEqual([act, 1]);
  }
});

describe('tries', () => {
  test('are counted before anything slow is done: sixty at once are five free ones', async () => {
    const email = mail();
    await new Person(server.address).call(routes.createAccount, { body: { name: 'X', email, password: PASSWORD, workspace: 'X' } });
    await server.sql.query('DELETE FROM sign_in_tries');
    const began = performance.now();
    const answers = await Promise.all(
      Array.from({ length: 60 }, (_, i) => new Person(server.address).call(routes.signIn, { body: { email, password: `wrong ${i}` } })),
    );
    const count = (status: number): number => answers.filter((a) => a.status === status).length;
    expect([count(401), count(429)]).toEqual([5, 55]);
    expect(Number(answers.find((a) => a.status === 429)!.headers.get('retry-after'))).toBeGreaterThan(0);
    // Hashing fifty-five more, two at a time, would take ten times as long as five.
    const five = performance.now() - began;
    expect(five).toBeLessThan(60_000);
    // The right password counts back what it took.
    await server.sql.query('DELETE FROM sign_in_tries');
    for (let i = 0; i < 8; i++)
      expect((await new Person(server.address).call(routes.signIn, { body: { email, password: PASSWORD } })).status).toBe(200);
  });

  test('at signing up: ten free from one place, three for one address, at once as one by one', async () => {
    const email = mail();
    const sign = (address: string) =>
      new Person(server.address).call(routes.createAccount, { body: { name: 'X', email: address, password: PASSWORD, workspace: 'Up' } });
    const answers = await Promise.all(Array.from({ length: 24 }, () => sign(email)));
    expect(answers.filter((a) => a.status === 200)).toHaveLength(3);
    const [[{ n }]] = (await server.sql.query('SELECT COUNT(*) AS n FROM account WHERE email = ?', [email])) as unknown as [
      [{ n: number }],
    ];
    expect(Number(n)).toBe(3);
    await server.sql.query('DELETE FROM sign_in_tries');
    const others = await Promise.all(Array.from({ length: 24 }, () => sign(mail())));
    expect(others.filter((a) => a.status === 200)).toHaveLength(10);
  });

  test('at guessing codes of computers and secret addresses', async () => {
    const stranger = new Person(server.address);
    const codes: number[] = [];
    for (let i = 0; i < 12; i++)
      codes.push((await stranger.call(routes.joinComputer, { body: { code: 'AAAA-BBBB-CCCC', system: 'x' } })).status);
    expect([codes.filter((s) => s === 404).length, codes[11]]).toEqual([10, 429]);
    const links: number[] = [];
    for (let i = 0; i < 25; i++) links.push((await stranger.call(routes.readReset, { params: { token: `guess-${i}` } })).status);
    expect([links.filter((s) => s === 404).length, links[24]]).toEqual([20, 429]);
  });
});
