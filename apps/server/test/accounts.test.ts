import { randomBytes } from 'node:crypto';
import { request } from 'node:http';
import { routes } from '@orderly-glyph/schema';
import { readFont } from '../../../packages/core/test/fonts.js';
import { newMember, newOwner, Person, startServer, type TestServer } from './setup.js';

let server: TestServer;
beforeAll(async () => {
  server = await startServer({ DEMO: '1' });
});
afterAll(() => server.stop());

const mail = (): string => `${randomBytes(6).toString('hex')}@test.example`;
const PASSWORD = 'three quiet otters';
const signUp = async (email: string, password = PASSWORD): Promise<[Person, number]> => {
  const person = new Person(server.address);
  const { status } = await person.call(routes.createAccount, { body: { name: 'Ada Vale', email, password, workspace: 'Vale' } });
  return [person, status];
};
const signIn = (person: Person, email: string, password: string) => person.call(routes.signIn, { body: { email, password } });
const tokenOf = (path: string): string => path.split('/').pop()!;

/** Makes an owner's workspace the sample business, as the loader does. */
async function makeDemo(): Promise<Person> {
  const loader = await newOwner(server.address, 'Sample');
  const { answer } = await loader.call(routes.getSession);
  await server.sql.query('UPDATE workspace SET demo = 1 WHERE id = ?', [answer.workspace!.id]);
  await server.sql.query('UPDATE account SET demo = 1 WHERE id = ?', [answer.account!.id]);
  return loader;
}

test('the sample business is no way into anybody’s account', async () => {
  const loader = await makeDemo();
  const visitor = new Person(server.address);
  const { answer: session } = await visitor.call(routes.openDemo);
  expect(session).toMatchObject({ account: { demo: true }, workspace: { name: 'Sample' } });
  // A stranger who became an owner of it by some older fault is never who visitors come in as.
  const [victim] = await signUp(mail());
  const me = (await victim.call(routes.getSession)).answer;
  await server.sql.query("INSERT INTO member (id, workspace_id, account_id, role) VALUES (UUID(), ?, ?, 'owner')", [
    session.workspace!.id,
    me.account!.id,
  ]);
  for (let i = 0; i < 3; i++) expect((await new Person(server.address).call(routes.openDemo)).answer.account!.id).toBe(session.account!.id);
  // It belongs to whoever runs it, who may do all that an owner may; only its account is no person's.
  const refused = async (status: Promise<{ status: number }>): Promise<number> => (await status).status;
  expect(await refused(visitor.call(routes.createInvitation, { body: { role: 'viewer', note: '' } }))).toBe(200);
  expect(await refused(visitor.call(routes.changeAccount, { body: { name: 'Mine' } }))).toBe(403);
  expect(await refused(visitor.call(routes.listSessions))).toBe(403);
  expect(
    await refused(
      visitor.call(routes.createPlace, {
        body: { name: 'By hand', profileId: 'design-tool', address: 'https://tool.example', byHand: true },
      }),
    ),
  ).toBe(200);
  // Nobody comes in from elsewhere, and not over a proxy on this machine either.
  for (const headers of [{ 'x-forwarded-for': '203.0.113.9' }, { via: '1.1 proxy' }, { forwarded: 'for=203.0.113.9' }] as Record<
    string,
    string
  >[])
    expect((await new Person(server.address).raw('POST', '/api/session/demo', null, headers)).status).toBe(404);
  // An invitation elsewhere is no door either.
  const owner = await newOwner(server.address);
  const { answer: invited } = await owner.call(routes.createInvitation, { body: { role: 'viewer', note: '' } });
  expect(await refused(visitor.call(routes.acceptInvitation, { params: { token: tokenOf(invited.path) }, body: { account: null } }))).toBe(
    403,
  );
  expect(await refused(loader.call(routes.getDesk))).toBe(200);
});

test('the demo is off unless asked for, and never on under a public address', async () => {
  for (const env of [{ DEMO: '0' }, { DEMO: '1', PUBLIC_ADDRESS: 'https://glyph.example' }]) {
    const other = await startServer(env as unknown as Record<string, string>);
    const host = 'PUBLIC_ADDRESS' in env ? { host: 'glyph.example' } : {};
    const owner = await newOwner(other.address);
    const { answer } = await owner.call(routes.getSession);
    await other.sql.query('UPDATE workspace SET demo = 1 WHERE id = ?', [answer.workspace!.id]);
    await other.sql.query('UPDATE account SET demo = 1');
    expect((await new Person(other.address).call(routes.openDemo)).status).toBe(404);
    expect((await new Person(other.address).call(routes.startSampleOver)).status).toBe(404);
    expect((await new Person(other.address).call(routes.getSession)).answer.demoAvailable).toBe(false);
    if ('PUBLIC_ADDRESS' in env) {
      // Behind HTTPS cookies are Secure, whatever the last hop was.
      const response = await ask(other.address, '/api/session/demo', host.host!, 'POST');
      expect(response.status).toBe(403);
      const made = await owner.raw('DELETE', '/api/session');
      expect(made.headers.get('set-cookie')).toMatch(/; Secure/);
      expect(made.headers.get('strict-transport-security')).toMatch(/max-age/);
    }
    await other.stop();
  }
});

/** A request under any name, which fetch does not let a test choose. */
function ask(
  address: string,
  path: string,
  host: string,
  method = 'GET',
  headers: Record<string, string> = {},
): Promise<{ status: number }> {
  return new Promise((resolve, reject) => {
    const sent = request(address + path, { method, headers: { host, ...headers } }, (response) => {
      response.resume();
      response.on('end', () => resolve({ status: response.statusCode! }));
    });
    sent.on('error', reject);
    sent.end();
  });
}

test('requests under another name are not answered (DNS rebinding)', async () => {
  const port = new URL(server.address).port;
  expect((await ask(server.address, '/api/session', 'evil.example')).status).toBe(421);
  expect((await ask(server.address, '/api/session', `evil.example:${port}`)).status).toBe(421);
  expect((await ask(server.address, '/api/session', `localhost:${port}`)).status).toBe(200);
});

test('an invitation is for one use, runs out, and joining is the person’s own act', async () => {
  const owner = await newOwner(server.address, 'Plot');
  const invite = async () =>
    tokenOf((await owner.call(routes.createInvitation, { body: { role: 'editor', note: 'for Ben' } })).answer.path);
  const token = await invite();
  expect((await new Person(server.address).call(routes.readInvitation, { params: { token } })).answer).toMatchObject({
    workspace: 'Plot',
    role: 'editor',
    by: 'Test Owner',
  });
  const [rows] = (await server.sql.query('SELECT token_hash FROM invitation')) as unknown as [{ token_hash: string }[]];
  expect(rows.map((r) => r.token_hash)).not.toContain(token);
  // With a new account.
  const email = mail();
  const ben = new Person(server.address);
  const joined = await ben.call(routes.acceptInvitation, {
    params: { token },
    body: { account: { name: 'Ben', email, password: PASSWORD } },
  });
  expect(joined.answer).toMatchObject({ role: 'editor', workspace: { name: 'Plot' } });
  expect((await new Person(server.address).call(routes.readInvitation, { params: { token } })).status).toBe(404);
  // A second business takes the account he has, and neither learns or sets anything of it.
  const second = await newOwner(server.address, 'Second');
  const again = tokenOf((await second.call(routes.createInvitation, { body: { role: 'viewer', note: '' } })).answer.path);
  expect(
    (await new Person(server.address).call(routes.acceptInvitation, { params: { token: again }, body: { account: null } })).status,
  ).toBe(401);
  const there = await ben.call(routes.acceptInvitation, { params: { token: again }, body: { account: null } });
  expect(there.answer.workspaces.map((w) => w.name).sort()).toEqual(['Plot', 'Second']);
  // Two at the same moment: one joins.
  const race = await invite();
  const both = await Promise.all(
    [1, 2].map(() =>
      new Person(server.address).call(routes.acceptInvitation, {
        params: { token: race },
        body: { account: { name: 'R', email: mail(), password: PASSWORD } },
      }),
    ),
  );
  expect(both.map((b) => b.status).sort()).toEqual([200, 404]);
  const late = await invite();
  await server.sql.query('UPDATE invitation SET expires_at = NOW() - INTERVAL 1 DAY');
  expect((await new Person(server.address).call(routes.readInvitation, { params: { token: late } })).status).toBe(404);
});

test('an owner resets the password of their own people only, once', async () => {
  const owner = await newOwner(server.address, 'Resets');
  const editor = await newMember(owner, 'editor');
  const email = (await editor.call(routes.getSession)).answer.account!.email;
  const member = (await owner.call(routes.listMembers)).answer.find((m) => m.email === email)!;
  const { answer } = await owner.call(routes.resetMember, { params: { memberId: member.id } });
  const token = tokenOf(answer.path);
  expect((await new Person(server.address).call(routes.readReset, { params: { token } })).answer.by).toBe('Test Owner');
  expect((await new Person(server.address).call(routes.useReset, { params: { token }, body: { password: 'password12' } })).status).toBe(
    422,
  );
  expect(
    (await new Person(server.address).call(routes.useReset, { params: { token }, body: { password: 'seven brown hats' } })).status,
  ).toBe(200);
  expect((await editor.call(routes.getDesk)).status).toBe(401);
  expect(
    (await new Person(server.address).call(routes.useReset, { params: { token }, body: { password: 'seven brown hats' } })).status,
  ).toBe(404);
  const back = new Person(server.address);
  expect((await signIn(back, email, 'seven brown hats')).status).toBe(200);
  // Who works elsewhere, too, is not this owner's to reset, not even by an address made before.
  const made = tokenOf((await owner.call(routes.resetMember, { params: { memberId: member.id } })).answer.path);
  const other = await newOwner(server.address, 'Elsewhere');
  const invited = tokenOf((await other.call(routes.createInvitation, { body: { role: 'owner', note: '' } })).answer.path);
  await back.call(routes.acceptInvitation, { params: { token: invited }, body: { account: null } });
  expect((await owner.call(routes.resetMember, { params: { memberId: member.id } })).status).toBe(409);
  expect(
    (await new Person(server.address).call(routes.useReset, { params: { token: made }, body: { password: 'nine green birds' } })).status,
  ).toBe(404);
});

test('signing up does not tell whether an address exists, and each signs in to their own', async () => {
  const email = mail();
  const [first, one] = await signUp(email, 'first tall ladder');
  const [second, two] = await signUp(email, 'second tall ladder');
  expect([one, two]).toEqual([200, 200]);
  const idOf = async (p: Person): Promise<string> => (await p.call(routes.getSession)).answer.account!.id;
  const back = async (password: string): Promise<string> => {
    const person = new Person(server.address);
    await signIn(person, email, password);
    return idOf(person);
  };
  expect([await back('first tall ladder'), await back('second tall ladder')]).toEqual([await idOf(first), await idOf(second)]);
  // One derivation tries both, so the time tells nothing either: they share a salt.
  const [rows] = (await server.sql.query('SELECT password_hash AS h FROM account WHERE email = ?', [email])) as unknown as [
    { h: string }[],
  ];
  expect(new Set(rows.map((r) => r.h.split('$')[4])).size).toBe(1);
  expect(new Set(rows.map((r) => r.h.split('$')[5])).size).toBe(2);
});

test('common passwords are refused at the field', async () => {
  for (const password of ['password123', '1234567890', 'qwertyuiop', 'aaaaaaaaaaaa', 'ada vale 1']) {
    const { status, answer } = (await new Person(server.address).call(routes.createAccount, {
      body: { name: 'Ada Vale', email: mail(), password, workspace: 'Vale' },
    })) as unknown as { status: number; answer: { error: { field: string } } };
    expect([password, status, answer.error?.field]).toEqual([password, 422, 'password']);
  }
});

test('wrong passwords are counted in the database with growing waits; a known browser is not locked out by others', async () => {
  const email = mail();
  const [known] = await signUp(email);
  const guess = async (from: Person): Promise<number> => (await signIn(from, email, 'a wrong guess')).status;
  const statuses: number[] = [];
  for (let i = 0; i < 8; i++) statuses.push(await guess(new Person(server.address)));
  expect(statuses.slice(0, 5)).toEqual(Array(5).fill(401));
  expect(statuses).toContain(429);
  // Also the right one, from a stranger's browser; not from the browser that was signed in before.
  expect((await signIn(new Person(server.address), email, PASSWORD)).status).toBe(429);
  await known.call(routes.signOut);
  known.cookie = '';
  expect((await signIn(known, email, PASSWORD)).status).toBe(200);
  // The count is the database's: a server that starts anew knows it.
  const [[row]] = (await server.sql.query(
    'SELECT MAX(TIMESTAMPDIFF(SECOND, last_at, free_at)) AS longest, MAX(tries) AS tries FROM sign_in_tries',
  )) as unknown as [[{ longest: number; tries: number }]];
  expect([row.longest >= 1, row.tries >= 5]).toEqual([true, true]);
  // Each further try waits twice as long.
  await server.sql.query('UPDATE sign_in_tries SET free_at = NOW()');
  await guess(new Person(server.address));
  const [[more]] = (await server.sql.query(
    'SELECT MAX(TIMESTAMPDIFF(SECOND, last_at, free_at)) AS longest FROM sign_in_tries',
  )) as unknown as [[{ longest: number }]];
  expect(more.longest).toBeGreaterThan(row.longest);
  await server.sql.query('DELETE FROM sign_in_tries');
});

test('X-Forwarded-For is believed from configured proxies only', async () => {
  const addressOf = async (address: string): Promise<string> => {
    await server.sql.query('DELETE FROM sign_in_tries');
    await new Person(address).raw('POST', '/api/session', JSON.stringify({ email: mail(), password: 'x' }), {
      'content-type': 'application/json',
      'x-forwarded-for': '203.0.113.9',
    });
    return address;
  };
  const subjects = async (sql: TestServer['sql']): Promise<string[]> =>
    ((await sql.query('SELECT subject FROM sign_in_tries'))[0] as { subject: string }[]).map((r) => r.subject);
  const { createHash } = await import('node:crypto');
  const forged = createHash('sha256').update('address:203.0.113.9').digest('hex');
  await addressOf(server.address);
  expect(await subjects(server.sql)).not.toContain(forged);
  const proxied = await startServer({ TRUSTED_PROXIES: '127.0.0.1' });
  await addressOf(proxied.address);
  expect(await subjects(proxied.sql)).toContain(forged);
  await proxied.stop();
});

test('sixty who sign in at once do not stop the others', async () => {
  await server.sql.query('DELETE FROM sign_in_tries');
  const crowd = Array.from({ length: 60 }, () => signIn(new Person(server.address), mail(), 'a wrong guess'));
  await new Promise((r) => setTimeout(r, 100));
  // While they are hashed, two at a time, plain answers come at once: many of them before the crowd is through.
  let answered = 0;
  let done = false;
  void Promise.all(crowd).then(() => (done = true));
  while (!done && answered < 40) {
    expect((await new Person(server.address).raw('GET', '/api/session')).status).toBe(200);
    answered++;
  }
  expect(answered).toBe(40);
  await Promise.all(crowd);
  await server.sql.query('DELETE FROM sign_in_tries');
});

test('a change of password or address takes the current one, ends the other sessions, and each session can be ended', async () => {
  const email = mail();
  const [person] = await signUp(email);
  const other = new Person(server.address);
  await signIn(other, email, PASSWORD);
  const { answer: sessions } = await person.call(routes.listSessions);
  expect(sessions).toHaveLength(2);
  expect(sessions.filter((s) => s.current)).toHaveLength(1);
  expect((await person.call(routes.changeAccount, { body: { password: 'nine green birds', current: 'wrong' } })).status).toBe(422);
  expect((await person.call(routes.changeAccount, { body: { name: 'Ada V.' } })).answer.account!.name).toBe('Ada V.');
  expect((await other.call(routes.getDesk)).status).toBe(200);
  const next = mail();
  expect(
    (await person.call(routes.changeAccount, { body: { email: next, password: 'nine green birds', current: PASSWORD } })).answer.account!
      .email,
  ).toBe(next);
  expect((await other.call(routes.getDesk)).status).toBe(401);
  expect((await person.call(routes.getDesk)).status).toBe(200);
  expect((await signIn(new Person(server.address), email, PASSWORD)).status).toBe(401);
  const third = new Person(server.address);
  expect((await signIn(third, next, 'nine green birds')).status).toBe(200);
  const list = (await person.call(routes.listSessions)).answer;
  await person.call(routes.endSession, { params: { sessionId: list.find((s) => !s.current)!.id } });
  expect((await third.call(routes.getDesk)).status).toBe(401);
  // Nobody ends another person's session.
  const [stranger] = await signUp(mail());
  expect((await stranger.call(routes.endSession, { params: { sessionId: list[0]!.id } })).status).toBe(404);
});

test('the event stream of somebody who was taken out ends at once', async () => {
  const owner = await newOwner(server.address);
  const viewer = await newMember(owner, 'viewer');
  const { intake } = await owner.bringIn([['a.ttf', readFont('gochiHand')]]);
  // A job that does not end by itself.
  await server.sql.query("UPDATE job SET state = 'running', claimed_by = UUID(), heartbeat_at = NOW() + INTERVAL 1 HOUR WHERE id = ?", [
    intake.jobId,
  ]);
  const response = await viewer.raw('GET', `/api/jobs/${intake.jobId}/events`);
  const reader = response.body!.getReader();
  expect(new TextDecoder().decode((await reader.read()).value)).toContain('running');
  const email = (await viewer.call(routes.getSession)).answer.account!.email;
  const { answer: members } = await owner.call(routes.listMembers);
  await owner.call(routes.removeMember, { params: { memberId: members.find((m) => m.email === email)!.id } });
  await server.sql.query("UPDATE job SET message = 'something new' WHERE id = ?", [intake.jobId]);
  const rest: string[] = [];
  for (let piece = await reader.read(); !piece.done; piece = await reader.read()) rest.push(new TextDecoder().decode(piece.value));
  expect(rest.join('')).not.toContain('something new');
  await server.sql.query("UPDATE job SET state = 'done' WHERE id = ?", [intake.jobId]);
});

test('secret addresses can be switched off and renewed', async () => {
  const owner = await newOwner(server.address);
  await owner.bringIn([['a.ttf', readFont('gochiHand')]]);
  const face = (await owner.call(routes.listFamilies)).answer.families[0]!.leadFaceId;
  const calendar = (await owner.call(routes.renewCalendar, { body: {} })).answer.path!;
  expect((await fetch(server.address + calendar)).status).toBe(200);
  await owner.call(routes.switchOffCalendar);
  expect((await fetch(server.address + calendar)).status).toBe(404);
  const { answer: proof } = await owner.call(routes.createProofSheet, {
    body: { plan: { faceIds: [face], title: 'x', text: '', parts: [], ink: '#000000', paper: '#ffffff' }, endsOn: '2999-01-01' },
  });
  const at = (path: string): Promise<Response> => fetch(`${server.address}/api/public/proofs/${tokenOf(path)}`);
  expect((await at(proof.path)).status).toBe(200);
  const { answer: renewed } = await owner.call(routes.renewProofSheet, { params: { sheetId: proof.id } });
  expect([(await at(proof.path)).status, (await at(renewed.path)).status]).toEqual([404, 200]);
});
