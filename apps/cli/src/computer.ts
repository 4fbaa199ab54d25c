import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { chmod, mkdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { homedir, hostname, platform, release } from 'node:os';
import { basename, extname, join } from 'node:path';
import { parseArgs } from 'node:util';
import { WrongUse } from './wrong-use.js';

export const COMPUTER_USAGE = `glyph computer join ADDRESS CODE
  Joins this computer to a workspace, with the code that its page shows.
glyph computer sync [--fonts FOLDER]
  Fetches the faces assigned to this computer into your fonts folder, takes off what was withdrawn, and tells what is there.
`;

/** What is kept between two runs: where to ask, and what was put where. */
interface State {
  address: string;
  token: string;
  /** Files that we put there, by install; nothing else is ever removed. */
  files: Record<string, { path: string; sha256: string }>;
}

interface Told {
  wanted: { installId: string; name: string; sha256: string; bytes: number }[];
  remove: string[];
}

/** Largest font that is fetched. */
const MOST_BYTES = 100 * 1024 * 1024;
const WITHIN_MS = 120_000;

/** Where the state lies: XDG Base Directory Specification; elsewhere the folder of the system for it. */
function stateFile(): string {
  const base =
    platform() === 'win32'
      ? (process.env.LOCALAPPDATA ?? join(homedir(), 'AppData/Local'))
      : platform() === 'darwin'
        ? join(homedir(), 'Library/Application Support')
        : (process.env.XDG_CONFIG_HOME ?? join(homedir(), '.config'));
  return join(base, 'orderly-glyph', 'computer.json');
}

/** The user's own fonts folder. Sources: fontconfig's fonts.conf (xdg "fonts"); Apple, "Font locations"; Microsoft, per-user fonts of Windows 10. */
function fontsFolder(): string {
  if (platform() === 'win32') return join(process.env.LOCALAPPDATA ?? join(homedir(), 'AppData/Local'), 'Microsoft/Windows/Fonts');
  if (platform() === 'darwin') return join(homedir(), 'Library/Fonts');
  return join(process.env.XDG_DATA_HOME ?? join(homedir(), '.local/share'), 'fonts');
}

const sha = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

/** Written beside and renamed, so that programs never see half a font and a killed run leaves the old state or the new one. */
async function whole(path: string, bytes: Uint8Array | string, mode = 0o644): Promise<void> {
  const part = join(path, '..', `.${basename(path)}.${process.pid}.part`);
  await writeFile(part, bytes, { mode });
  await chmod(part, mode);
  await rename(part, path);
}

async function readState(): Promise<State | null> {
  try {
    return JSON.parse(await readFile(stateFile(), 'utf8')) as State;
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return null;
    throw new Refusal(
      `${stateFile()} cannot be read (${(error as NodeJS.ErrnoException).code ?? 'it is damaged'}). Join this computer again.`,
    );
  }
}
async function keepState(state: State): Promise<void> {
  await mkdir(join(stateFile(), '..'), { recursive: true });
  // It holds the token: for its owner only.
  await whole(stateFile(), `${JSON.stringify(state, null, 1)}\n`, 0o600);
}

/** Something that a person has to do; a sentence. */
class Refusal extends Error {}

async function ask(address: string, path: string, token: string | null, body?: unknown): Promise<Response> {
  const url = new URL(path, `${address}/`);
  let answer: Response;
  try {
    answer = await fetch(url, {
      method: body === undefined ? 'GET' : 'POST',
      redirect: 'error',
      signal: AbortSignal.timeout(WITHIN_MS),
      headers: {
        origin: url.origin,
        ...(token ? { authorization: `Bearer ${token}` } : {}),
        ...(body === undefined ? {} : { 'content-type': 'application/json' }),
      },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
  } catch {
    throw new Refusal(`${url.origin} does not answer. Nothing was changed; try again later.`);
  }
  if (answer.ok) return answer;
  const said = (await answer.json().catch(() => null)) as { error?: { message?: string } } | null;
  throw new Refusal(said?.error?.message ?? `${url.origin} refused (HTTP ${answer.status}).`);
}

async function joinWorkspace(address: string, code: string): Promise<number> {
  if (!URL.canParse(address) || !/^https?:$/.test(new URL(address).protocol))
    throw new WrongUse('The address begins with https:// or http://.');
  const origin = new URL(address).origin;
  const answer = await ask(origin, 'api/computers/join', null, { code, system: `${hostname()}, ${platform()} ${release()}`.slice(0, 120) });
  const { token, computer, workspace } = (await answer.json()) as { token: string; computer: string; workspace: string };
  const before = await readState().catch(() => null);
  // What an earlier joining put there stays ours to take off.
  await keepState({ address: origin, token, files: before?.files ?? {} });
  process.stdout.write(`This computer is “${computer}” of ${workspace} now. Fetch its faces with: glyph computer sync\n`);
  return 0;
}

type Seen = 'there' | 'missing' | 'changed';
async function look({ path, sha256 }: { path: string; sha256: string }): Promise<Seen> {
  try {
    return sha(await readFile(path)) === sha256 ? 'there' : 'changed';
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return 'missing';
    throw new Refusal(`${path} cannot be read (${(error as NodeJS.ErrnoException).code ?? 'unknown reason'}). Nothing was changed there.`);
  }
}

/** Tells Windows of a font in the user's folder, or that it is gone; other systems look by themselves. */
function tellSystem(path: string, there: boolean): void {
  if (platform() !== 'win32') return;
  const key = 'HKCU\\Software\\Microsoft\\Windows NT\\CurrentVersion\\Fonts';
  const name = basename(path, extname(path));
  spawnSync('reg', there ? ['add', key, '/v', name, '/t', 'REG_SZ', '/d', path, '/f'] : ['delete', key, '/v', name, '/f'], {
    stdio: 'ignore',
  });
}

async function sync(folder: string): Promise<number> {
  const state = await readState();
  if (!state) throw new Refusal('This computer is not joined. Join it with: glyph computer join ADDRESS CODE');
  await mkdir(folder, { recursive: true });
  const report: { installId: string; state: Seen | 'removed' }[] = [];
  for (const [installId, file] of Object.entries(state.files)) report.push({ installId, state: await look(file) });
  const told = async (list: typeof report): Promise<Told> =>
    (await (await ask(state.address, 'api/computers/sync', state.token, { report: list })).json()) as Told;
  const { wanted, remove } = await told(report);
  const done: typeof report = [];
  let changed = false;
  for (const installId of remove) {
    const file = state.files[installId];
    // What we did not put there, or somebody changed since, is not ours to remove.
    const seen = file ? await look(file) : 'missing';
    if (file && seen === 'changed') {
      process.stderr.write(`glyph: ${file.path} was changed by somebody else and is left where it is.\n`);
      done.push({ installId, state: 'changed' });
      continue;
    }
    if (file && seen === 'there') {
      await rm(file.path);
      tellSystem(file.path, false);
      changed = true;
      process.stdout.write(`taken off: ${basename(file.path)}\n`);
    }
    delete state.files[installId];
    await keepState(state);
    done.push({ installId, state: 'removed' });
  }
  let failed = false;
  for (const { installId, name, sha256, bytes } of wanted) {
    const known = state.files[installId];
    if (known && known.sha256 === sha256 && (await look(known)) === 'there') {
      done.push({ installId, state: 'there' });
      continue;
    }
    // The name comes from elsewhere: it never leads out of the folder.
    if (!/^[A-Za-z0-9][A-Za-z0-9._-]{0,140}\.(ttf|otf|ttc)$/i.test(name) || bytes > MOST_BYTES) {
      process.stderr.write(`glyph: “${name}” is no font file that is put here.\n`);
      failed = true;
      continue;
    }
    const path = join(folder, name);
    const others = Object.entries(state.files).some(([id, f]) => id !== installId && f.path === path);
    if (!known && !others && (await look({ path, sha256 })) === 'changed') {
      process.stderr.write(`glyph: ${path} is there already and is not ours; it is left as it is.\n`);
      done.push({ installId, state: 'changed' });
      failed = true;
      continue;
    }
    const data = new Uint8Array(await (await ask(state.address, `api/computers/files/${installId}`, state.token)).arrayBuffer());
    if (sha(data) !== sha256) {
      process.stderr.write(`glyph: ${name} arrived damaged and was not kept. Run this again.\n`);
      failed = true;
      continue;
    }
    // The state first: a run killed between the two still knows that the file is its own.
    state.files[installId] = { path, sha256 };
    await keepState(state);
    await whole(path, data);
    tellSystem(path, true);
    changed = true;
    done.push({ installId, state: 'there' });
    process.stdout.write(`put there: ${name}\n`);
  }
  if (changed && platform() === 'linux') spawnSync('fc-cache', [folder], { stdio: 'ignore' });
  await told(done);
  const here = Object.keys(state.files).length;
  process.stdout.write(
    `${here} ${here === 1 ? 'face is' : 'faces are'} here.${changed ? ' Start programs again that should list what is new.' : ''}\n`,
  );
  return failed ? 1 : 0;
}

/** Carries `glyph computer` out. @throws WrongUse */
export async function computer(args: string[]): Promise<number> {
  const { values, positionals } = parseArgs({ args, allowPositionals: true, options: { fonts: { type: 'string' } } });
  const [act, address, code] = positionals;
  try {
    if (act === 'join' && address && code) return await joinWorkspace(address, code);
    if (act === 'sync' && positionals.length === 1) return await sync(values.fonts ?? fontsFolder());
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    process.stderr.write(`glyph: ${error.message}\n`);
    return 1;
  }
  throw new WrongUse('computer takes “join ADDRESS CODE” or “sync”.');
}
