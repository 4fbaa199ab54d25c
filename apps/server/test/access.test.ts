import { randomUUID } from 'node:crypto';
import { DEFAULT_FACTS } from '@orderly-glyph/core';
import { blankLicense, routes, wish as wishSchema, type AnyContract } from '@orderly-glyph/schema';
import { readFont } from '../../../packages/core/test/fonts.js';
import { newMember, newOwner, Person, startServer, type TestServer } from './setup.js';

/** One px, PNG. */
const PNG = 'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR4nGNgYGD4DwABBAEAX+XDSwAAAABJRU5ErkJggg==';
const inquiry = {
  title: 'x',
  customer: '',
  note: '',
  price: null,
  currency: null,
  use: 'logo' as const,
  open: true,
  reading: {
    edits: [],
    ground: null,
    ink: null,
    level: null,
    specks: 0,
    pinholes: 0,
    word: '',
    without: [],
    asWord: null,
    stretched: false,
    slanted: false,
  },
  sureness: null,
  candidates: [],
  kept: null,
};
const WISH = {
  languages: ['en'],
  figures: false,
  punctuation: false,
  currency: false,
  fractions: false,
  capitalsOnly: false,
  variants: 0,
  ligatures: [],
  also: '',
};

let server: TestServer;
let owner: Person;
let editor: Person;
let viewer: Person;
let stranger: Person;
/** An id of the owner's workspace for every parameter and body field that can carry one. */
let ids: Record<string, string>;

/** Parameters that name no row. */
const PLAIN: Record<string, string> = { format: 'woff2', page: '1', number: '0', token: 'no-such-token' };

const table = Object.entries(routes) as [keyof typeof routes, AnyContract][];

/** A well-formed request for a route that names things of the owner's workspace. */
function request(name: keyof typeof routes, contract: AnyContract): { path: string; body: string | null } {
  const path = contract.path.replace(/:(\w+)/g, (_, p: string) => ids[p] ?? PLAIN[p] ?? `no-id-for-${p}`);
  const license = { ...blankLicense([ids.faceId!]), name: 'x' };
  const words = { text: 'x', size: 10, color: '#000000', purpose: 'logo' };
  const plan = { faceIds: [ids.faceId], title: 'x', text: '', parts: [], ink: '#000000', paper: '#ffffff' };
  const bodies: Partial<Record<keyof typeof routes, object>> = {
    createInvitation: { role: 'viewer', note: '' },
    acceptInvitation: { account: null },
    useReset: { password: 'a long password' },
    changeAccount: {},
    changeWorkspace: { name: 'x', timeZone: 'UTC' },
    changePlace: { name: 'x', address: 'http://127.0.0.1:9', key: '', version: 1 },
    importWorkspace: { intakeId: ids.intakeId },
    checkKit: { faceIds: [ids.faceId] },
    createKit: { faces: [{ faceId: ids.faceId, statement: 'x', note: 'x' }] },
    changeMember: { role: 'viewer', version: 1 },
    setReadyTexts: [],
    createIntake: { label: 'x' },
    createLicense: license,
    changeLicense: { ...license, version: 1 },
    createPlace: { name: 'x', profileId: 'website', address: 'http://127.0.0.1:9', key: 'k' },
    checkForPlace: { faceIds: [ids.faceId] },
    createDelivery: { placeId: ids.placeId, faces: [{ faceId: ids.faceId, statement: 'x', note: 'x' }] },
    checkForPlaces: { faceIds: [ids.faceId], placeIds: [ids.placeId] },
    createDeliveries: {
      batchId: randomUUID(),
      orders: [{ placeId: ids.placeId, faces: [{ faceId: ids.faceId, statement: 'x', note: 'x' }] }],
    },
    checkInstalls: { placeId: ids.placeId },
    planWithdrawal: { faceIds: [ids.faceId] },
    withdraw: { batchId: randomUUID(), installIds: [ids.installId] },
    confirmByHand: {},
    arrangeInstalls: { installIds: [ids.installId], role: 'headings' },
    joinComputer: { code: 'x', system: 'x' },
    syncComputer: { report: [] },
    createHouseStyle: {
      name: 'y',
      roles: { headline: null, text: { faceId: ids.faceId, size: 10, ink: '#000000', paper: '#ffffff' }, accent: null, figures: null },
    },
    changeHouseStyle: {
      name: 'x',
      roles: { headline: null, text: { faceId: ids.faceId, size: 10, ink: '#000000', paper: '#ffffff' }, accent: null, figures: null },
      version: 1,
    },
    changeRules: { rules: null, version: 1 },
    assignRole: { role: 'headings' },
    makeRelease: { recipe: { name: 'x', languages: [], formats: ['woff2'] } },
    createProduct: { kind: 'edition', faceIds: [ids.faceId], recipe: { name: 'x', languages: [], formats: ['woff2'] } },
    createIconSet: { family: 'y', prefix: 'y-' },
    changeIconSet: { facts: { ...DEFAULT_FACTS, family: 'x', prefix: 'x-', base: 'x-icon' }, version: 1 },
    addDrawings: { files: [{ path: 'x.svg', text: '<svg/>' }] },
    pickGlyphs: { faceId: ids.faceId, characters: [65] },
    changeDrawings: { act: 'mirror', ids: [ids.drawingId], mirror: true },
    releaseIcons: { mayRelease: true, version: 1 },
    createTypeface: { family: 'y', wish: WISH },
    changeTypeface: {
      facts: { family: 'x', style: 'Regular', maker: '', license: '', licenseUrl: '', embedding: 0 },
      wish: WISH,
      version: 1,
    },
    makeSheet: { paper: 'A4', em: 14, boxes: 'all' },
    addLetters: { files: [{ path: 'a.svg', text: '<svg/>' }] },
    changeLetters: { act: 'white', white: 50 },
    releaseTypeface: { mayRelease: true, version: 1 },
    shapeWords: { text: 'x', faceIds: [ids.faceId] },
    describeCandidates: { faceIds: [ids.faceId] },
    createInquiry: { ...inquiry, png: PNG },
    changeInquiry: { ...inquiry, version: 1 },
    planConversion: { faceIds: [ids.faceId], wish: { to: 'woff2' } },
    convertFace: { wish: { to: 'woff2' } },
    compareConversion: { wish: { to: 'woff2' }, glyph: null, character: 'a' },
    keepRecipe: { name: 'x', wish: { to: 'woff2' }, address: {} },
    drawWords: { wish: words },
    checkText: { text: 'x', faceIds: [ids.faceId], use: null },
    switchWorkspace: { workspaceId: ids.workspaceId },
    changeLibrary: { act: 'favorite', familyIds: [ids.familyId], on: true },
    keepSearch: { name: 'x', query: 'q=x' },
    keepText: { name: 'x', text: 'x' },
    setPalette: [],
    findDrawn: { strokes: [[0, 0, 1, 1]], pen: 1 },
    createProofSheet: { plan, endsOn: '2999-01-01' },
    renderProofSheet: plan,
    readTermsText: { text: 'x' },
    keepStartingPoint: { name: 'x', hint: '', kind: 'bought', uses: {} },
    writeProofOfRights: { faceIds: [ids.faceId], use: 'website', as: 'pdf' },
  } as Partial<Record<keyof typeof routes, object>>;
  const queries: Partial<Record<keyof typeof routes, string>> = {
    uploadFile: '?name=a.ttf',
    getFaceLine: '?text=abc',
    getNeeds: '?language=pl',
    getVersionChanges: `?newer=${ids.faceId}`,
    renderProofSheet: '?as=png',
    addEvidence: '?name=a.txt',
    downloadAudit: '?as=csv',
    getConversion: `?wish=${encodeURIComponent('{"to":"woff2"}')}`,
    getWords: `?as=svg&wish=${encodeURIComponent(JSON.stringify(words))}`,
    getConversions: `?faces=${ids.faceId}&wish=${encodeURIComponent('{"to":"woff2"}')}`,
  };
  const takesBody = !['GET', 'DELETE'].includes(contract.method);
  return { path: path + (queries[name] ?? ''), body: takesBody ? JSON.stringify(bodies[name] ?? {}) : null };
}

const send = async (person: Person, name: keyof typeof routes, contract: AnyContract): Promise<Response> => {
  const { path, body } = request(name, contract);
  return person.raw(
    contract.method,
    path,
    body,
    body === null ? {} : { 'content-type': contract.carries === 'upload' ? 'application/octet-stream' : 'application/json' },
  );
};

beforeAll(async () => {
  server = await startServer();
  owner = await newOwner(server.address, 'Ours');
  editor = await newMember(owner, 'editor');
  viewer = await newMember(owner, 'viewer');
  stranger = await newOwner(server.address, 'Theirs');
  const { intake, items } = await owner.bringIn([
    ['a.ttf', readFont('gochiHand')],
    ['LICENSE.txt', new TextEncoder().encode('The license: ask us.')],
  ]);
  const { answer: face } = await owner.call(routes.getFace, { params: { faceId: items[0]!.faceId! } });
  const { answer: license } = await owner.call(routes.createLicense, {
    body: { ...blankLicense([face.id]), name: 'x', kind: 'made-here', uses: { website: 'yes' }, confirmed: true },
  });
  const { answer: session } = await owner.call(routes.getSession);
  // No site answers there, so the place is written by hand.
  const place = { id: randomUUID() };
  await server.sql.query(
    "INSERT INTO place (id, workspace_id, name, profile_id, address, site_key, created_at) VALUES (?, ?, 'Nowhere', 'website', 'http://127.0.0.1:9', 'k', NOW())",
    [place.id, session.workspace!.id],
  );
  const { answer: recipe } = await owner.call(routes.keepRecipe, {
    body: { name: 'x', wish: wishSchema.parse({ to: 'woff2' }), address: {} },
  });
  const { answer: check } = await owner.call(routes.checkForPlace, {
    params: { placeId: place.id },
    body: { faceIds: [face.id], remedies: ['way'] },
  });
  const batchId = randomUUID();
  const { answer: deliveries } = await owner.call(routes.createDeliveries, {
    body: {
      batchId,
      orders: [{ placeId: place.id, faces: [{ faceId: face.id, remedies: ['way'], statement: check[0]!.statement, note: 'x' }] }],
    },
  });
  const delivery = deliveries[0]!;
  await owner.finished(delivery.jobId);
  const { answer: asked } = await owner.call(routes.checkKit, { body: { faceIds: [face.id] } });
  const { answer: kit } = await owner.call(routes.createKit, {
    body: { faces: [{ faceId: face.id, statement: asked[0]!.statement, note: 'x' }] },
  });
  const { answer: invitation } = await owner.call(routes.createInvitation, { body: { role: 'viewer', note: '' } });
  const { answer: sessions } = await owner.call(routes.listSessions);
  const { answer: waiting } = await owner.call(routes.createIntake, { body: { label: 'waiting' } });
  const { answer: members } = await owner.call(routes.listMembers);
  // No site answers at the place, so the install is written by hand.
  const installId = randomUUID();
  await server.sql.query(
    "INSERT INTO install (id, workspace_id, place_id, face_id, delivery_id, sha256, format, bytes, version, remote_name, installed_by, installed_at) VALUES (?, ?, ?, ?, ?, ?, 'woff2', 1, '', 'x', '', NOW())",
    [installId, session.workspace!.id, place.id, face.id, delivery.id, 'a'.repeat(64)],
  );
  const productId = randomUUID();
  await server.sql.query(
    "INSERT INTO product (id, workspace_id, kind, name, created_by, created_at) VALUES (?, ?, 'edition', 'x', '', NOW())",
    [productId, session.workspace!.id],
  );
  const { answer: changed } = await owner.call(routes.changeLibrary, { body: { act: 'favorite', familyIds: [face.familyId], on: true } });
  const { answer: search } = await owner.call(routes.keepSearch, { body: { name: 'Gochi', query: 'q=gochi' } });
  const { answer: text } = await owner.call(routes.keepText, { body: { name: 'Gochi', text: 'Gochi' } });
  const { answer: proof } = await owner.call(routes.createProofSheet, {
    body: {
      plan: { faceIds: [face.id], title: 'x', text: '', parts: [], ink: '#000000', paper: '#ffffff' },
      endsOn: '2999-01-01',
    },
  });
  const { answer: style } = await owner.call(routes.createHouseStyle, {
    body: {
      name: 'x',
      roles: { headline: null, text: { faceId: face.id, size: 10, ink: '#000000', paper: '#ffffff' }, accent: null, figures: null },
    },
  });
  const { answer: icons } = await owner.call(routes.createIconSet, { body: { family: 'x', prefix: 'x-' } });
  const { answer: drawn } = await owner.call(routes.addDrawings, {
    params: { setId: icons.id },
    body: {
      files: [{ path: 'x.svg', text: '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><rect width="9" height="9"/></svg>' }],
    },
  });
  const { answer: typeface } = await owner.call(routes.createTypeface, { body: { family: 'x', wish: WISH } });
  const { answer: sheeted } = await owner.call(routes.makeSheet, {
    params: { typefaceId: typeface.id },
    body: { paper: 'A4', em: 14, boxes: 'all' },
  });
  const { answer: lettered } = await owner.call(routes.addLetters, {
    params: { typefaceId: typeface.id },
    body: {
      files: [{ path: 'a.svg', text: '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><rect width="9" height="9"/></svg>' }],
    },
  });
  const { answer: kept } = await owner.call(routes.createInquiry, { body: { ...inquiry, png: PNG } });
  const { answer: points } = await owner.call(routes.keepStartingPoint, { body: { name: 'x', hint: '', kind: 'bought', uses: {} } });
  ids = {
    recipeId: recipe.id,
    productId,
    workspaceId: session.workspace!.id,
    memberId: members.find((m) => m.role === 'viewer')!.id,
    intakeId: waiting.id,
    jobId: intake.jobId!,
    faceId: face.id,
    fileId: face.files[0]!.id,
    companionId: items[1]!.companionId!,
    licenseId: license.id,
    placeId: place.id,
    deliveryId: delivery.id,
    batchId,
    installId,
    familyId: face.familyId,
    changeId: changed.changeId!,
    searchId: search.id,
    textId: text.id,
    sheetId: proof.id,
    startingPointId: points[0]!.id,
    secret: proof.path.split('/').pop()!,
    kitId: kit.id,
    styleId: style.id,
    setId: icons.id,
    drawingId: drawn.set.drawings[0]!.id,
    typefaceId: typeface.id,
    paperId: sheeted.sheets[0]!.id,
    letterId: lettered.added[0]!,
    itemId: items[0]!.id,
    inquiryId: kept.id,
    invitationId: invitation.id,
    sessionId: sessions[0]!.id,
  };
});
afterAll(() => server.stop());

test('every parameter of the route table has an id to try with', () => {
  for (const [, contract] of table)
    for (const [, name] of contract.path.matchAll(/:(\w+)/g))
      if (!(name! in PLAIN) && name !== 'secret' && name !== 'paperId') expect(ids[name!]).toMatch(/^[0-9a-f-]{36}$/);
});

const closed = table.filter(([, c]) => c.access !== 'public');
test.each(closed)('%s needs a session', async (name, contract) => {
  const response = await send(new Person(server.address), name, contract);
  expect(response.status).toBe(401);
});

const forEditors = table.filter(([, c]) => c.access === 'editor' || c.access === 'owner');
test.each(forEditors)('%s is closed to viewers', async (name, contract) => {
  expect((await send(viewer, name, contract)).status).toBe(403);
});
test.each(table.filter(([, c]) => c.access === 'owner'))('%s is closed to editors', async (name, contract) => {
  expect((await send(editor, name, contract)).status).toBe(403);
});

/** Routes that name something, in the path, the query or the body. */
const naming = closed.filter(
  ([name, c]) =>
    c.path.includes(':') ||
    [
      'createLicense',
      'createDelivery',
      'createHouseStyle',
      'checkForPlaces',
      'createDeliveries',
      'withdraw',
      'checkInstalls',
      'checkText',
      'checkKit',
      'createKit',
      'switchWorkspace',
      'changeLibrary',
      'createProofSheet',
      'renderProofSheet',
    ].includes(name),
);
test.each(naming)('%s does not reach into another workspace', async (name, contract) => {
  const response = await send(stranger, name, contract);
  expect(response.status).toBe(404);
  expect(((await response.json()) as { error: { message: string } }).error.message).not.toContain('Gochi');
});

test.each(closed.filter(([, c]) => c.method === 'GET' && !c.path.includes(':')))(
  '%s shows a stranger nothing of ours',
  async (name, contract) => {
    const text = await (await send(stranger, name, contract)).text();
    for (const value of [...Object.values(ids), 'Gochi']) expect(text).not.toContain(value);
  },
);

test('what the role allows works', async () => {
  expect((await viewer.call(routes.getFace, { params: { faceId: ids.faceId! } })).status).toBe(200);
  expect((await editor.call(routes.createIntake, { body: { label: 'x' } })).status).toBe(200);
  expect(
    (await owner.call(routes.changeMember, { params: { memberId: ids.memberId! }, body: { role: 'viewer', version: 1 } })).status,
  ).toBe(200);
});

test('the only owner cannot step down', async () => {
  const { answer } = await owner.call(routes.listMembers);
  const me = answer.find((m) => m.role === 'owner')!;
  expect((await owner.call(routes.changeMember, { params: { memberId: me.id }, body: { role: 'viewer', version: 1 } })).status).toBe(409);
  expect((await owner.call(routes.removeMember, { params: { memberId: me.id } })).status).toBe(409);
});

test('writes from another site are not carried out', async () => {
  for (const origin of ['https://elsewhere.example', 'null', '']) {
    const response = await fetch(`${server.address}/api/intakes`, {
      method: 'POST',
      headers: { cookie: owner.cookie, 'content-type': 'application/json', ...(origin ? { origin } : {}) },
      body: '{"label":"x"}',
    });
    expect(response.status).toBe(403);
  }
});

test('the cookie is HttpOnly and SameSite, and the database keeps only its hash', async () => {
  const person = new Person(server.address);
  const email = `${randomUUID()}@test.example`;
  const response = await person.raw(
    'POST',
    '/api/accounts',
    JSON.stringify({ name: 'A', email, password: 'a long password', workspace: 'W' }),
    { 'content-type': 'application/json' },
  );
  expect(response.headers.getSetCookie()).toEqual([
    expect.stringMatching(/^glyph_session=.*HttpOnly; SameSite=Lax/),
    expect.stringMatching(/^glyph_browser=.*HttpOnly; SameSite=Lax/),
  ]);
  const [rows] = (await server.sql.query('SELECT token_hash FROM session')) as unknown as [{ token_hash: string }[]];
  expect(rows.map((r) => r.token_hash)).not.toContain(person.cookie.split('=')[1]);
  const [accounts] = (await server.sql.query('SELECT password_hash FROM account WHERE email = ?', [email])) as unknown as [
    { password_hash: string }[],
  ];
  expect(accounts[0]!.password_hash).toMatch(/^scrypt\$131072\$8\$1\$/);
  await person.call(routes.signOut);
  expect((await person.call(routes.listFamilies)).status).toBe(401);
});

test('headers keep uploaded pages and drawings from running', async () => {
  const page = await owner.raw('GET', '/api/session');
  expect(page.headers.get('content-security-policy')).toContain("script-src 'self'");
  expect(page.headers.get('content-security-policy')).not.toContain('unsafe');
  expect(page.headers.get('x-content-type-options')).toBe('nosniff');
  const { items } = await owner.bringIn([
    ['shop.svg', new TextEncoder().encode('<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>')],
    ['page.html', new TextEncoder().encode('<!doctype html><script>alert(1)</script>')],
  ]);
  for (const item of items) {
    const response = await owner.raw('GET', `/api/companions/${item.companionId}/bytes`);
    expect(response.headers.get('content-type')).toBe('application/octet-stream');
    expect(response.headers.get('content-disposition')).toMatch(/^attachment/);
    expect(response.headers.get('content-security-policy')).toContain('sandbox');
  }
});

test('malformed requests are answered in words', async () => {
  const broken = await owner.raw('POST', '/api/intakes', '{"label"', { 'content-type': 'application/json' });
  expect(broken.status).toBe(400);
  const wrong = await owner.raw('POST', '/api/licenses', '{"name":""}', { 'content-type': 'application/json' });
  expect(wrong.status).toBe(422);
  expect(((await wrong.json()) as { error: { message: string } }).error.message).toContain('Nothing was changed');
  expect((await owner.raw('GET', '/api/faces/not-an-id')).status).toBe(404);
  expect((await owner.raw('GET', '/api/no-such-thing')).status).toBe(404);
});

test('the OpenAPI document describes every route of the table', async () => {
  const document = (await (await owner.raw('GET', '/api/openapi.json')).json()) as {
    openapi: string;
    paths: Record<string, Record<string, { operationId: string }>>;
  };
  expect(document.openapi).toBe('3.1.0');
  const described = Object.values(document.paths).flatMap((p) => Object.values(p).map((o) => o.operationId));
  expect(described.sort()).toEqual(table.map(([name]) => name as string).sort());
});
