import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { constants } from 'node:fs';
import { chmod, copyFile, link, lstat, mkdir, open, readFile, rename, rm, writeFile, type FileHandle } from 'node:fs/promises';
import { homedir, hostname, platform, release } from 'node:os';
import { basename, extname, join } from 'node:path';
import { parseArgs } from 'node:util';
import { WrongUse } from './wrong-use.js';

export const COMPUTER_USAGE = `glyph computer join ADDRESS CODE
  Joins this computer to a workspace, with the code that its page shows.
glyph computer sync [--fonts FOLDER]
  Fetches the fonts assigned to this computer into a folder of its own in your fonts folder, removes what was withdrawn, and
  tells what is there. What somebody else changed or put there is left as it is.
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

/** Text from elsewhere as it may stand in a terminal: nothing that moves, colors or hides what is on it. */
const shown = (text: string): string => text.replace(/[\p{Cc}\p{Cf}\p{Co}\p{Cn}\u2028\u2029]/gu, '?').slice(0, 400);
const say = (text: string): void => void process.stdout.write(`${shown(text)}\n`);
const warn = (text: string): void => void process.stderr.write(`glyph: ${shown(text)}\n`);

/** What a server may say in words, bytes. */
const MOST_TALK = 8 * 1024 * 1024;

/** Reads an answer piece by piece, and no more of it than it may have. @throws Refusal */
async function* pieces(answer: Response, most: number): AsyncGenerator<Uint8Array> {
  let bytes = 0;
  const reader = answer.body?.getReader();
  if (!reader) return;
  try {
    for (;;) {
      const { done, value } = await reader.read();
      if (done) return;
      bytes += value.byteLength;
      if (bytes > most) throw new Refusal('It sent more than it had said, and that was not taken.');
      yield value;
    }
  } catch (error) {
    if (error instanceof Refusal) throw error;
    throw new Refusal('The connection broke off. Run this again.');
  } finally {
    await reader.cancel().catch(() => undefined);
  }
}

async function words(answer: Response): Promise<unknown> {
  const parts: Uint8Array[] = [];
  for await (const piece of pieces(answer, MOST_TALK)) parts.push(piece);
  try {
    return JSON.parse(Buffer.concat(parts).toString('utf8'));
  } catch {
    throw new Refusal('Its answer is not understood. Nothing was changed.');
  }
}

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
  const said = (await words(answer).catch(() => null)) as { error?: { message?: unknown } } | null;
  const message = said?.error?.message;
  throw new Refusal(typeof message === 'string' ? message : `${url.origin} refused (HTTP ${answer.status}).`);
}

async function joinWorkspace(address: string, code: string): Promise<number> {
  if (!URL.canParse(address) || !/^https?:$/.test(new URL(address).protocol))
    throw new WrongUse('The address begins with https:// or http://.');
  const origin = new URL(address).origin;
  const answer = await ask(origin, 'api/computers/join', null, { code, system: `${hostname()}, ${platform()} ${release()}`.slice(0, 120) });
  const { token, computer, workspace } = (await words(answer)) as Record<'token' | 'computer' | 'workspace', unknown>;
  if (typeof token !== 'string') throw new Refusal('Its answer is not understood. Nothing was changed.');
  const before = await readState().catch(() => null);
  // What an earlier joining put there stays ours to take off.
  await keepState({ address: origin, token, files: before?.files ?? {} });
  say(`This computer is “${String(computer)}” of ${String(workspace)} now. Fetch its fonts with: glyph computer sync`);
  return 0;
}

type Seen = 'there' | 'missing' | 'changed';
/** What cannot be read is somebody else's, as what differs is. */
async function look({ path, sha256 }: { path: string; sha256: string }): Promise<Seen> {
  let file: FileHandle;
  try {
    file = await open(path, constants.O_RDONLY | constants.O_NONBLOCK | (constants.O_NOFOLLOW ?? 0));
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'ENOENT' ? 'missing' : 'changed';
  }
  try {
    const about = await file.stat();
    if (!about.isFile() || about.size > MOST_BYTES) return 'changed';
    return sha(await file.readFile()) === sha256 ? 'there' : 'changed';
  } catch {
    return 'changed';
  } finally {
    await file.close();
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

/** The folder of our own below the fonts folder: nothing outside of it is written. @throws Refusal */
async function ownFolder(fonts: string): Promise<string> {
  const folder = join(fonts, 'Orderly Glyph');
  await mkdir(fonts, { recursive: true });
  await mkdir(folder).catch((error: NodeJS.ErrnoException) => {
    if (error.code !== 'EEXIST') throw new Refusal(`${folder} cannot be made (${error.code ?? 'unknown reason'}).`);
  });
  if (!(await lstat(folder)).isDirectory()) throw new Refusal(`${folder} is no folder. Move what is there away; nothing was changed.`);
  return folder;
}

/** An entry of a list that a server sent; null where it is none. */
function entryOf(raw: unknown): Told['wanted'][number] | null {
  const { installId, name, sha256, bytes } = (raw ?? {}) as Record<string, unknown>;
  return typeof installId === 'string' &&
    /^[\w-]{1,64}$/.test(installId) &&
    typeof name === 'string' &&
    typeof sha256 === 'string' &&
    /^[0-9a-f]{64}$/.test(sha256) &&
    typeof bytes === 'number' &&
    bytes > 0 &&
    bytes <= MOST_BYTES
    ? { installId, name, sha256, bytes }
    : null;
}

/** Fetches a file beside where it will lie, no more of it than was said. @throws Refusal */
async function fetchTo(part: string, state: State, { installId, sha256, bytes, name }: Told['wanted'][number]): Promise<void> {
  const answer = await ask(state.address, `api/computers/files/${installId}`, state.token);
  const digest = createHash('sha256');
  const file = await open(part, 'wx', 0o644);
  try {
    for await (const piece of pieces(answer, bytes)) {
      digest.update(piece);
      await file.write(piece);
    }
    await file.sync();
  } finally {
    await file.close();
  }
  if (digest.digest('hex') !== sha256) throw new Refusal(`${name} arrived damaged and was not kept. Run this again.`);
}

async function sync(fonts: string): Promise<number> {
  const state = await readState();
  if (!state) throw new Refusal('This computer is not joined. Join it with: glyph computer join ADDRESS CODE');
  const folder = await ownFolder(fonts);
  const report: { installId: string; state: Seen | 'removed' }[] = [];
  for (const [installId, file] of Object.entries(state.files)) report.push({ installId, state: await look(file) });
  const told = async (list: typeof report): Promise<{ wanted: unknown[]; remove: unknown[] }> => {
    const said = (await words(await ask(state.address, 'api/computers/sync', state.token, { report: list }))) as Partial<Told> | null;
    return { wanted: Array.isArray(said?.wanted) ? said.wanted : [], remove: Array.isArray(said?.remove) ? said.remove : [] };
  };
  const { wanted, remove } = await told(report);
  const done: typeof report = [];
  let changed = false;
  let failed = false;
  const complain = (why: string): void => {
    warn(why);
    failed = true;
  };
  const sharedBy = (installId: string, path: string): boolean =>
    Object.entries(state.files).some(([id, f]) => id !== installId && f.path === path);

  const takeOff = async (installId: string): Promise<void> => {
    const file = state.files[installId];
    // What we did not put there, or somebody changed since, is not ours to remove.
    const seen = file ? await look(file) : 'missing';
    if (file && seen === 'changed') {
      warn(`${file.path} was changed by somebody else and is left where it is.`);
      done.push({ installId, state: 'changed' });
      return;
    }
    if (file && seen === 'there' && !sharedBy(installId, file.path)) {
      await rm(file.path);
      tellSystem(file.path, false);
      changed = true;
      say(`removed: ${basename(file.path)}`);
    }
    delete state.files[installId];
    await keepState(state);
    done.push({ installId, state: 'removed' });
  };

  const bring = async (raw: unknown): Promise<void> => {
    const entry = entryOf(raw);
    // The name comes from elsewhere: it never leads out of the folder, nor means a device.
    if (!entry || !/^[A-Za-z0-9][A-Za-z0-9._-]{0,140}\.(ttf|otf|ttc)$/i.test(entry.name) || DEVICE.test(entry.name))
      return complain(`“${String((raw as { name?: unknown } | null)?.name ?? '')}” is no font file that is put here; the others go on.`);
    const { installId, name, sha256 } = entry;
    const known = state.files[installId];
    const seen = known ? await look(known) : 'missing';
    if (known && known.sha256 === sha256 && seen === 'there') {
      done.push({ installId, state: 'there' });
      return;
    }
    const leave = (path: string, why: string): void => {
      done.push({ installId, state: 'changed' });
      complain(`${path} ${why}; it is left as it is.`);
    };
    // A newer version only takes the place of what is as we left it.
    if (known && seen === 'changed') return leave(known.path, 'was changed by somebody else');
    const path = known?.path ?? join(folder, name);
    if (!known) {
      const there = await look({ path, sha256 });
      if (there === 'there' && sharedBy(installId, path)) {
        state.files[installId] = { path, sha256 };
        await keepState(state);
        done.push({ installId, state: 'there' });
        return;
      }
      if (there !== 'missing') return leave(path, 'is there already and is not ours');
    }
    const part = join(folder, `.${installId}.${process.pid}.part`);
    try {
      await fetchTo(part, state, entry);
      if (seen === 'there') {
        // Looked at again: fetching took a while.
        if ((await look(known!)) !== 'there') return leave(path, 'was changed by somebody else');
        // The state first, with both, so that a run killed between the two still knows its own file.
        state.files[installId] = { path, sha256 };
        await rename(part, path);
        await keepState(state);
      } else {
        state.files[installId] = { path, sha256 };
        await keepState(state);
        try {
          // Unlike renaming, this never takes the place of a file that came there meanwhile.
          await link(part, path);
        } catch (error) {
          if ((error as NodeJS.ErrnoException).code === 'EEXIST') {
            delete state.files[installId];
            await keepState(state);
            return leave(path, 'is there already and is not ours');
          }
          await copyFile(part, path, constants.COPYFILE_EXCL);
        }
      }
    } finally {
      await rm(part, { force: true });
    }
    tellSystem(path, true);
    changed = true;
    done.push({ installId, state: 'there' });
    say(`installed: ${name}`);
  };

  // One odd entry never holds the others up.
  for (const installId of remove)
    if (typeof installId === 'string') await takeOff(installId).catch((error: Error) => complain(`${error.message}`));
  for (const raw of wanted) await bring(raw).catch((error: Error) => complain(`${error.message}`));
  if (changed && platform() === 'linux') spawnSync('fc-cache', [folder], { stdio: 'ignore' });
  await told(done);
  const here = Object.keys(state.files).length;
  say(`${here} ${here === 1 ? 'font is' : 'fonts are'} here.${changed ? ' Restart programs that should list what is new.' : ''}`);
  return failed ? 1 : 0;
}

/** Names that mean devices to Windows. Source: Microsoft, "Naming Files, Paths, and Namespaces". */
const DEVICE = /^(con|prn|aux|nul|com\d|lpt\d)\./i;

/** Carries `glyph computer` out. @throws WrongUse */
export async function computer(args: string[]): Promise<number> {
  const { values, positionals } = parseArgs({ args, allowPositionals: true, options: { fonts: { type: 'string' } } });
  const [act, address, code] = positionals;
  try {
    if (act === 'join' && address && code) return await joinWorkspace(address, code);
    if (act === 'sync' && positionals.length === 1) return await sync(values.fonts ?? fontsFolder());
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    warn(error.message);
    return 1;
  }
  throw new WrongUse('computer takes “join ADDRESS CODE” or “sync”.');
}
