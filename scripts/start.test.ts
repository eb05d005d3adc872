import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { cp, mkdir, mkdtemp, readdir, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { createServer, type AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, afterEach, beforeAll, describe, expect, it, vi } from 'vitest';

// A machine that does other work beside takes its time to start a database.
vi.setConfig({ testTimeout: 240_000, hookTimeout: 60_000 });

let data: string;
/** Of the first start. */
let key: string;
const children: ChildProcess[] = [];
beforeAll(async () => {
  data = await mkdtemp(join(tmpdir(), 'oiseau-start-'));
  const first = await running({ OISEAU_DATA: data });
  ({ key } = first);
  const made = await fetch(`${first.url}/api/albums`, {
    method: 'POST',
    body: '{"title":"Kept"}',
    headers: { 'Content-Type': 'application/json', Authorization: `Bearer ${first.key}` },
  });
  expect(made.status).toBe(201);
  await interrupt(first);
}, 300_000);
// A test that fails half-way must not leave an application running behind it.
afterEach(() => Promise.all(children.splice(0).map((child) => interrupt({ child }))));
afterAll(() => rm(data, { recursive: true, force: true }));

interface Started {
  child: ChildProcess;
  /** Without the key that it carries. */
  url: string;
  key: string;
}

/** Runs `npm start`'s script until it says its URL, or ends. */
function start(
  env: Record<string, string>,
): Promise<Started | { status: number | null; out: string; err: string }> {
  const child = spawn(process.execPath, ['scripts/script.mjs', 'start'], {
    env: { ...process.env, OISEAU_DEMO: 'off', OISEAU_PORT: '0', ...env },
  });
  children.push(child);
  let out = '';
  let err = '';
  return new Promise((resolve) => {
    child.stderr.on('data', (text) => (err += String(text)));
    child.stdout.on('data', (text) => {
      out += String(text);
      const [, url, key] = /ready: (\S+)\/#key=([\w-]{43}) /.exec(out) ?? [];
      if (url && key) resolve({ child, url, key });
    });
    child.on('close', (status) => resolve({ status, out, err }));
  });
}

/** Albums on the Shelf of a running application. */
async function shelf({ url, key }: Started): Promise<unknown> {
  const answer = await fetch(`${url}/api/albums`, { headers: { Authorization: `Bearer ${key}` } });
  return ((await answer.json()) as { albums: unknown }).albums;
}

async function running(env: Record<string, string>): Promise<Started> {
  const result = await start(env);
  if (!('url' in result)) throw new Error(`did not start: ${result.out} ${result.err}`);
  return result;
}

/** Sends the signal of Ctrl-C and waits for the end. */
async function interrupt({ child }: Pick<Started, 'child'>): Promise<number | null> {
  if (child.exitCode !== null || child.signalCode !== null) return child.exitCode;
  const ended = new Promise<number | null>((resolve) => child.once('close', resolve));
  child.kill('SIGINT');
  return ended;
}

/** Processes that one has started, and those that they have. */
async function descendants(of: number): Promise<number[]> {
  const listed = await readFile(`/proc/${of}/task/${of}/children`, 'utf8').catch(() => '');
  const own = listed.split(' ').filter(Boolean).map(Number);
  return [...own, ...(await Promise.all(own.map(descendants))).flat()];
}

const alive = (pid: number): boolean => {
  try {
    process.kill(pid, 0);
    return true;
  } catch {
    return false;
  }
};

describe('npm start', () => {
  it('prints one address with its key, ends cleanly on Ctrl-C, and keeps every album for the next start', async () => {
    const first = await running({ OISEAU_DATA: data });
    const database = Number(await readFile(join(data, 'database/mariadb.pid'), 'utf8'));
    expect(first.key).toBe(key);
    expect(await (await fetch(first.url)).text()).toContain('<title>Oiseau</title>');
    expect(await interrupt(first)).toBe(0);
    expect(alive(database)).toBe(false);
    await expect(fetch(first.url)).rejects.toThrow();

    const second = await running({ OISEAU_DATA: data });
    expect(second.key).toBe(key);
    expect(await shelf(second)).toMatchObject([{ title: 'Kept' }]);
    await interrupt(second);
  });

  it('keeps what it writes from the machine’s other users, and its password from the environment of children', async () => {
    const application = await running({ OISEAU_DATA: data });
    const secret = await readFile(join(data, 'database/secret'), 'utf8');
    const open: string[] = [];
    for (const entry of await readdir(data, { recursive: true, withFileTypes: true })) {
      const path = join(entry.parentPath, entry.name);
      // Files that the database creates and deletes meanwhile don't count.
      const mode = (await stat(path).catch(() => null))?.mode ?? 0;
      if ((mode & 0o077) !== 0 && !entry.isSocket()) open.push(path);
    }
    expect((await stat(data)).mode & 0o777).toBe(0o700);
    expect(open).toEqual([]);
    const children = await descendants(application.child.pid ?? 0);
    expect(children.length).toBeGreaterThan(2);
    for (const pid of children)
      expect(await readFile(`/proc/${pid}/environ`, 'latin1')).not.toContain(secret.trim());
    await interrupt(application);
  });

  it.each([
    ['empty', () => ''],
    ['cut in half', (text: string) => text.slice(0, text.length / 2)],
    ['zeros', (text: string) => '\0'.repeat(text.length)],
  ])('starts where every small file of the data folder is %s', async (_called, spoil) => {
    const copy = await mkdtemp(join(tmpdir(), 'oiseau-spoilt-'));
    await cp(data, copy, { recursive: true });
    const small = ['access-key', 'start.pid', 'media/store.id', 'database/secret', 'database/socket'].concat(
      ['database/accounts.sql', 'database/mariadb.pid', 'standins/receivers.json'],
      ['drive', 'plant', 'shop', 'service'].map((kind) => `standins/${kind}/token`),
      ['standins/drive/medium.json', 'standins/plant/shipments/x/shipment.json'],
    );
    await mkdir(join(copy, 'standins/plant/shipments/x'), { recursive: true });
    for (const name of small) {
      const text = await readFile(join(copy, name), 'utf8').catch(() => '{"id":"x"}');
      await writeFile(join(copy, name), spoil(text), { mode: 0o600 });
    }
    try {
      const started = await running({ OISEAU_DATA: copy });
      expect(await shelf(started)).toMatchObject([{ title: 'Kept' }]);
      const health = await fetch(`${started.url}/api/health`, {
        headers: { Authorization: `Bearer ${started.key}` },
      });
      const { troubles } = (await health.json()) as { troubles: string[] };
      expect(troubles.filter((trouble) => /store|Simulated/.test(trouble))).toEqual([]);
      await interrupt(started);
    } finally {
      await rm(copy, { recursive: true, force: true });
    }
  });

  it('starts without its simulated recipients where they can’t start, and health says so', async () => {
    const copy = await mkdtemp(join(tmpdir(), 'oiseau-simulated-'));
    await cp(data, copy, { recursive: true });
    await rm(join(copy, 'standins'), { recursive: true, force: true });
    await writeFile(join(copy, 'standins'), 'no folder');
    try {
      const started = await running({ OISEAU_DATA: copy });
      const health = await fetch(`${started.url}/api/health`, {
        headers: { Authorization: `Bearer ${started.key}` },
      });
      const { troubles } = (await health.json()) as { troubles: string[] };
      expect(troubles.some((trouble) => /^The simulated recipients did not start: /.test(trouble))).toBe(
        true,
      );
      await interrupt(started);
    } finally {
      await rm(copy, { recursive: true, force: true });
    }
  });

  it('starts twice at the same moment on two new folders, and once on one', async () => {
    const folders = await Promise.all([0, 1].map(() => mkdtemp(join(tmpdir(), 'oiseau-twice-'))));
    try {
      const both = await Promise.all(folders.map((folder) => start({ OISEAU_DATA: folder })));
      for (const each of both) expect(each).toHaveProperty('url');
      await Promise.all(both.map((each) => ('url' in each ? interrupt(each) : undefined)));
      const [folder = ''] = folders;
      const same = await Promise.all([0, 1].map(() => start({ OISEAU_DATA: folder })));
      expect(same.filter((each) => 'url' in each)).toHaveLength(1);
      const refused = same.find((each) => 'status' in each);
      expect(refused).toMatchObject({ status: 1 });
      expect(refused && 'err' in refused ? refused.err : '').toMatch(/already runs from|Another start uses/);
    } finally {
      await Promise.all(children.map((child) => interrupt({ child })));
      for (const folder of folders) await rm(folder, { recursive: true, force: true });
    }
  });

  it('says in one line that a port is in use', async () => {
    const taken = createServer().listen(0, '127.0.0.1');
    await new Promise((resolve) => taken.once('listening', resolve));
    const { port } = taken.address() as AddressInfo;
    const result = await start({ OISEAU_DATA: data, OISEAU_PORT: String(port) });
    taken.close();
    expect(result).toMatchObject({
      status: 1,
      err: `Port ${port} is in use; choose another with OISEAU_PORT=4681 npm start.\n`,
    });
  });

  it('says in one line that the data folder is in use', async () => {
    const first = await running({ OISEAU_DATA: data });
    const second = await start({ OISEAU_DATA: data });
    expect(second).toMatchObject({
      status: 1,
      err: expect.stringMatching(/^Oiseau already runs from .* \(process \d+\)\.\n$/) as string,
    });
    await interrupt(first);
  });

  it('ends with everything when it is killed, and goes on at the next start', async () => {
    const killed = await running({ OISEAU_DATA: data });
    const children = await descendants(killed.child.pid ?? 0);
    killed.child.kill('SIGKILL');
    await new Promise((resolve) => killed.child.once('close', resolve));
    await expect.poll(() => children.filter(alive), { timeout: 60_000 }).toEqual([]);
    const next = await running({ OISEAU_DATA: data });
    expect(await shelf(next)).toMatchObject([{ title: 'Kept' }]);
    await interrupt(next);
  });

  it('leaves nothing running when it is stopped while it starts', async () => {
    for (const ms of [50, 700, 1200, 2000, 3200]) {
      const child = spawn(process.execPath, ['scripts/script.mjs', 'start'], {
        env: { ...process.env, OISEAU_DEMO: 'off', OISEAU_PORT: '0', OISEAU_DATA: data },
        stdio: 'ignore',
      });
      children.push(child);
      await new Promise((resolve) => setTimeout(resolve, ms));
      const begun = await descendants(child.pid ?? 0);
      await interrupt({ child });
      await expect.poll(() => begun.filter(alive), { timeout: 60_000 }).toEqual([]);
    }
    const next = await running({ OISEAU_DATA: data });
    expect(await shelf(next)).toMatchObject([{ title: 'Kept' }]);
    await interrupt(next);
  });

  it('starts again whatever dies: the server, a worker, the database', async () => {
    const application = await running({ OISEAU_DATA: data });
    const own = application.child.pid ?? 0;
    const before = await descendants(own);
    const commandOf = async (pid: number): Promise<string> =>
      readFile(`/proc/${pid}/cmdline`, 'utf8').catch(() => '');
    const find = async (name: string): Promise<number> => {
      for (const pid of await descendants(own)) if ((await commandOf(pid)).includes(name)) return pid;
      return 0;
    };
    for (const name of ['mariadbd', 'server.mjs', 'worker.mjs']) {
      const dead = await find(name);
      expect(before).toContain(dead);
      process.kill(dead, 'SIGKILL');
      await expect.poll(() => find(name), { timeout: 60_000 }).not.toBe(0);
      await expect
        .poll(() => shelf(application).catch(() => null), { timeout: 60_000 })
        .toMatchObject([{ title: 'Kept' }]);
    }
    await interrupt(application);
  });

  it('starts on a folder that was copied while it ran', async () => {
    const application = await running({ OISEAU_DATA: data });
    await expect(readFile(join(data, 'start.pid'), 'utf8')).resolves.toMatch(/^\d+\n\d+\n\//);
    const copy = await mkdtemp(join(tmpdir(), 'oiseau-copy-'));
    try {
      await writeFile(join(copy, 'start.pid'), await readFile(join(data, 'start.pid'), 'utf8'));
      const second = await running({ OISEAU_DATA: copy });
      expect(await shelf(second)).toEqual([]);
      await interrupt(second);
    } finally {
      await interrupt(application);
      await rm(copy, { recursive: true, force: true });
    }
  });

  it.each([
    ['has rubbish in it', (mysql: string) => writeFile(join(mysql, 'ibdata1'), 'not a tablespace')],
    ['has lost its log', (mysql: string) => rm(join(mysql, 'ib_logfile0'))],
    ['has lost its own tables', (mysql: string) => rm(join(mysql, 'mysql'), { recursive: true })],
  ])(
    'says in one line that a database %s, and which command helps, and leaves it as it is',
    async (_, spoil) => {
      const own = await mkdtemp(join(tmpdir(), 'oiseau-spoilt-'));
      try {
        // A database that was killed leaves its socket behind, which can't be copied.
        await cp(data, own, { recursive: true, filter: (path) => !path.endsWith('.sock') });
        await mkdir(join(own, 'backups', '20261126T041500Z before 007'), { recursive: true });
        await spoil(join(own, 'database/mysql'));
        expect(await start({ OISEAU_DATA: own })).toMatchObject({
          status: 1,
          err: `The database in ${own}/database/mysql can’t be opened. It is probably damaged or incomplete. Restore a backup: npm run restore -- "${own}/backups/20261126T041500Z before 007" "${own}-restored" (or use a newer backup, if you have one). The folder was not changed; see ${own}/database/mariadb.log.\n`,
        });
      } finally {
        await rm(own, { recursive: true, force: true });
      }
    },
  );

  // A disk of its own takes a mount: only root may make one.
  it.runIf(process.getuid?.() === 0).each([
    [
      'read-only',
      'size=400m,ro',
      /^The data folder .* can’t be written to: its disk is read-only\. OISEAU_DATA=FOLDER npm start takes another\.\n$/,
    ],
    [
      'too small',
      'size=20m',
      /^The disk of the data folder .* has 2\d MB left, and 300 MB are needed to begin with\. .*\n$/,
    ],
  ])('says in one line that a disk is %s', async (_, options, words) => {
    const own = await mkdtemp(join(tmpdir(), 'oiseau-disk-'));
    execFileSync('mount', ['-t', 'tmpfs', '-o', options, 'tmpfs', own]);
    try {
      expect(await start({ OISEAU_DATA: own })).toMatchObject({
        status: 1,
        err: expect.stringMatching(words) as string,
      });
    } finally {
      execFileSync('umount', [own]);
      await rm(own, { recursive: true, force: true });
    }
  });
});
