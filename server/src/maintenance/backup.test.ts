import { execFileSync } from 'node:child_process';
import {
  appendFile,
  mkdir,
  mkdtemp,
  readdir,
  readFile,
  rename,
  rm,
  stat,
  symlink,
  writeFile,
} from 'node:fs/promises';
import { hostname, tmpdir } from 'node:os';
import { join } from 'node:path';
import { deliverableSchema } from '@oiseau/album/model';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Database } from '../db/database.js';
import { MIGRATIONS } from '../db/migrations.js';
import { MediaStore } from '../media/media-store.js';
import {
  albumWithTones,
  deliveriesOf,
  freshDatabase,
  startHarness,
  toneFile,
  type Harness,
} from '../testing/harness.js';
import { backUp, backUpDatabase, contentPath, keepNewest, manifest, sumOfManifest } from './backup.js';
import { openBackup, restore, verifyBackup } from './restore.js';
import { verifyStore } from './verify.js';

let harness: Harness;
let backups: string;
let other: { db: Database; drop(): Promise<void> };
let elsewhere: MediaStore;
beforeEach(async () => {
  harness = await startHarness();
  backups = await mkdtemp(join(tmpdir(), 'oiseau-backups-'));
  other = await freshDatabase();
  elsewhere = new MediaStore(await mkdtemp(join(tmpdir(), '.oiseau-media-')), 0);
  await elsewhere.prepare();
});
afterEach(async () => {
  await harness.close();
  await other.drop();
  for (const folder of [backups, elsewhere.root]) await rm(folder, { recursive: true, force: true });
});

const look = (db: Database, media: MediaStore) => verifyStore(db, media, () => Promise.resolve());
const AT = new Date('2026-11-26T04:15:00.000Z');

/** An album with a cover, a revision, a render and a note. */
async function work(): Promise<{ id: string; masters: string[] }> {
  const { id, album } = await albumWithTones(harness, [440, 550], {
    deliverables: [deliverableSchema.parse({ name: 'Tracks “é” 潮', kind: 'tracks' })],
  });
  await harness.call('POST', `/albums/${id}/deliveries`, { by: 'Ada' });
  await harness.work();
  const [delivery] = await deliveriesOf(harness, id);
  await harness.call('POST', `/deliveries/${delivery?.id}/notes`, {
    path: 'proof.json',
    seconds: 1.25,
    text: 'a “b” \\ 潮',
  });
  return { id, masters: album.songs.map(({ region }) => region.master) };
}

/** Every row of every table, as text. */
async function everything(db: Database): Promise<Record<string, string[]>> {
  return db.snapshot(async (snapshot) => {
    const all: Record<string, string[]> = {};
    for (const table of await snapshot.tables()) {
      if (['sessions', 'failed_tries', 'migrations', 'changes', 'album_changes'].includes(table)) continue;
      const rows: string[] = [];
      for await (const row of snapshot.rows(table)) rows.push(JSON.stringify(row));
      all[table] = rows.sort();
    }
    return all;
  });
}

describe('a backup', () => {
  it('brings back every row and every file, elsewhere', async () => {
    await work();
    const { folder, files, faults } = await backUp(harness.db, harness.media, backups, undefined, AT);
    expect(faults).toEqual([]);
    expect(folder).toBe(join(backups, '20261126T041500Z'));
    // Two masters, two tracks, their sums and their proof.
    expect(files).toBe(6);
    expect(await restore(await openBackup(backups), other.db, elsewhere)).toEqual([]);
    expect(await everything(other.db)).toEqual(await everything(harness.db));
    expect(await look(other.db, elsewhere)).toEqual(await look(harness.db, harness.media));
    expect((await look(other.db, elsewhere)).faults).toEqual([]);
  });

  it('takes only what is new the second time, and each of them stands by itself', async () => {
    const { id } = await work();
    const first = await backUp(harness.db, harness.media, backups, undefined, AT);
    expect(first.newBytes).toBe(first.bytes);
    const again = await backUp(harness.db, harness.media, backups, undefined, new Date(AT.getTime() + 1000));
    expect([again.files, again.newBytes]).toEqual([6, 0]);
    await harness.send(`/albums/${id}/masters?name=more.wav`, toneFile(660, 5));
    const third = await backUp(harness.db, harness.media, backups, undefined, new Date(AT.getTime() + 2000));
    expect(third.newBytes).toBe(5 * 4 * 44_100 + 44);
    expect((await readdir(backups)).sort()).toEqual([
      '20261126T041500Z',
      '20261126T041501Z',
      '20261126T041502Z',
      'content',
    ]);
    // The newest is the default.
    expect((await openBackup(backups)).folder).toBe(third.folder);
    for (const { folder } of [first, again, third])
      expect(await verifyBackup(await openBackup(folder), () => undefined)).toEqual([]);
  });

  it('is of one moment, whatever is edited while it is made', async () => {
    const { id } = await work();
    let edits = 0;
    let busy = true;
    const editing = (async () => {
      while (busy) {
        const { body } = await harness.call<{ version: number; album: object }>('GET', `/albums/${id}`);
        const title = `edit ${++edits}`;
        await harness.call('PUT', `/albums/${id}`, {
          version: body.version,
          album: { ...body.album, title },
        });
      }
    })();
    const { folder } = await backUp(harness.db, harness.media, backups);
    busy = false;
    await editing;
    expect(edits).toBeGreaterThan(0);
    expect(await restore(await openBackup(folder), other.db, elsewhere)).toEqual([]);
    expect((await look(other.db, elsewhere)).faults).toEqual([]);
  });

  it('says which file it lacks, and has the rest', async () => {
    const { masters } = await work();
    const path = harness.media.file(masters[0] ?? '');
    const bytes = await readFile(path);
    bytes[99] = (bytes[99] ?? 0) ^ 1;
    await writeFile(path, bytes);
    const { faults, files } = await backUp(harness.db, harness.media, backups);
    expect(faults).toEqual(['The master “440.wav” has changed on the disk; the backup lacks it.']);
    expect(files).toBe(5);
  });

  it('that has changed or lost something since says so, and is not restored where that is the database', async () => {
    const { masters } = await work();
    const { folder } = await backUp(harness.db, harness.media, backups);
    const content = contentPath(backups, masters[0] ?? '');
    await rename(content, `${content}.away`);
    const table = join(folder, 'database', 'albums.jsonl');
    await appendFile(table, '\n');
    const backup = await openBackup(folder);
    expect(await verifyBackup(backup, () => undefined)).toEqual([
      'The table albums has changed.',
      `files/${masters[0]?.slice(0, 2)}/${masters[0]} is missing.`,
    ]);
    await expect(restore(backup, other.db, elsewhere)).rejects.toThrow(
      `${folder} can’t be restored: The table albums has changed.`,
    );
    await rm(join(folder, 'manifest.json'));
    await expect(openBackup(folder)).rejects.toThrow(`${folder} isn’t a backup and contains none.`);
  });

  it('of a later version is refused with a sentence', async () => {
    await work();
    const { folder } = await backUp(harness.db, harness.media, backups);
    const path = join(folder, 'manifest.json');
    const made = manifest.parse(JSON.parse(await readFile(path, 'utf8')));
    const later = { ...made, oiseau: '9.0.0', migrations: [...made.migrations, '999 later'] };
    await writeFile(path, JSON.stringify({ ...later, sum: sumOfManifest(later) }));
    await expect(restore(await openBackup(folder), other.db, elsewhere)).rejects.toThrow(
      'This backup was made by a later version of Oiseau (9.0.0).',
    );
  });

  it('that names a file outside the media store writes nothing there', async () => {
    await work();
    const { folder } = await backUp(harness.db, harness.media, backups);
    const sha256 = 'a'.repeat(64);
    for (const path of ['../../outside', '/etc/outside', 'files/../../outside']) {
      await writeFile(join(folder, 'files.jsonl'), `${JSON.stringify({ path, bytes: 1, sha256 })}\n`);
      const fresh = await freshDatabase();
      await expect(restore(await openBackup(folder), fresh.db, elsewhere)).rejects.toThrow();
      await fresh.drop();
    }
  });

  it('with one bit flipped anywhere is not restored as if it were whole', async () => {
    await work();
    const { folder } = await backUp(harness.db, harness.media, backups);
    const flip = async (path: string, at: (text: string) => number): Promise<() => Promise<void>> => {
      const bytes = await readFile(path);
      const whole = Buffer.from(bytes);
      const place = at(bytes.toString('latin1'));
      bytes[place] = (bytes[place] ?? 0) ^ 1;
      await writeFile(path, bytes);
      return () => writeFile(path, whole);
    };
    // A path in the list: the file is found by what the database knows of it, and the list is named.
    const list = join(folder, 'files.jsonl');
    let fix = await flip(list, (text) => text.indexOf('files/') + 10);
    expect(await verifyBackup(await openBackup(folder), () => undefined)).toEqual([
      'files.jsonl is missing or has changed.',
    ]);
    const faults = await restore(await openBackup(folder), other.db, elsewhere);
    expect(faults[0]).toBe('files.jsonl has changed; files are identified by the database where possible.');
    expect((await look(other.db, elsewhere)).faults).toEqual([]);
    await fix();
    // Each name and figure of the manifest.
    const file = join(folder, 'manifest.json');
    for (const word of ['001 albums', '"rows"', '"sequence"', '"sum"', '"content"']) {
      fix = await flip(file, (text) => text.indexOf(word) + 2);
      await expect(openBackup(folder), word).rejects.toThrow(/manifest\.json (has changed|can’t be read)/);
      await fix();
    }
    expect(await verifyBackup(await openBackup(folder), () => undefined)).toEqual([]);
  });

  it('does not follow links, pipes or devices', async () => {
    const { masters } = await work();
    const { folder } = await backUp(harness.db, harness.media, backups);
    const content = contentPath(backups, masters[0] ?? '');
    const refused = async (): Promise<void> => {
      const fresh = await freshDatabase();
      try {
        await expect(restore(await openBackup(folder), fresh.db, elsewhere)).rejects.toThrow(
          /is a link or not a regular file, so it isn’t read/,
        );
      } finally {
        await fresh.drop();
      }
    };
    for (const make of [
      () => symlink('/etc/passwd', content),
      () => symlink('/dev/zero', content),
      () => Promise.resolve(void execFileSync('mkfifo', [content])),
    ]) {
      await rm(content);
      await make();
      await refused();
    }
    // A folder on the way to it.
    await rename(join(content, '..'), join(backups, 'away'));
    await symlink(join(backups, 'away'), join(content, '..'));
    await refused();
    const table = join(folder, 'database', 'albums.jsonl');
    await rm(table);
    await symlink('/etc/passwd', table);
    await refused();
  });

  it('into a folder where another is being made is refused, and what a killed one left goes', async () => {
    await work();
    await mkdir(join(backups, 'content'));
    for (const left of ['20260101T000000Z.partial', 'content/123.partial'])
      await writeFile(join(backups, left), '');
    const both = await Promise.allSettled([
      backUp(harness.db, harness.media, backups, undefined, AT),
      backUp(harness.db, harness.media, backups, undefined, new Date(AT.getTime() + 1000)),
    ]);
    const [made, busy] = both.sort((a, b) => (a.status < b.status ? -1 : 1));
    expect(made?.status).toBe('fulfilled');
    expect((busy as PromiseRejectedResult).reason).toMatchObject({ code: 'backup-busy' });
    const names = await readdir(backups, { recursive: true });
    expect(names.filter((name) => /partial|lock/.test(name))).toEqual([]);
    // The lock of a process that is gone is ignored.
    await writeFile(join(backups, 'backup.lock'), `${hostname()}\n999999999\n`);
    await backUp(harness.db, harness.media, backups, undefined, new Date(AT.getTime() + 2000));
  });

  it('is the newest by its place in the folder, whatever the clock said', async () => {
    await work();
    const ahead = new Date(AT.getTime() + 2 * 3600_000);
    await backUp(harness.db, harness.media, backups, undefined, ahead);
    const last = await backUp(harness.db, harness.media, backups, undefined, AT);
    expect((await openBackup(backups)).folder).toBe(last.folder);
  });

  it('of the database alone, as it is made before a migration, finds the files where they are', async () => {
    await work();
    // As it lies in a data folder: data/media, data/backups/….
    const data = join(harness.media.root, '..', `oiseau-data-${process.pid}`);
    const store = join(data, 'media');
    const { folder } = await backUpDatabase(harness.db, join(data, 'backups', '20261126T041500Z before 007'));
    await rename(harness.media.root, store);
    try {
      expect(await restore(await openBackup(folder), other.db, elsewhere)).toEqual([]);
      expect((await look(other.db, elsewhere)).faults).toEqual([]);
    } finally {
      await rename(store, harness.media.root);
      await rm(data, { recursive: true, force: true });
    }
  });

  it('of the database alone goes when there are newer ones; what people put there stays', async () => {
    for (const hour of [1, 2, 3, 4])
      await backUpDatabase(harness.db, join(backups, `20261126T0${hour}0000Z before 007`));
    await writeFile(join(backups, 'mine'), '');
    await keepNewest(backups, 2);
    expect((await readdir(backups)).sort()).toEqual([
      '20261126T030000Z before 007',
      '20261126T040000Z before 007',
      'mine',
    ]);
  });
});

it('a backup that an earlier version made is restored and brought up to date', async () => {
  // The database as it was before the migrations of this version.
  const early = await freshDatabase();
  try {
    const { migrate } = await import('../db/migrate.js');
    await migrate(early.db, undefined, MIGRATIONS.slice(0, 6));
    await early.db.execute(
      "INSERT INTO albums (id, document, version, created_at, updated_at) VALUES (UUID(), '{', 3, UTC_TIMESTAMP(3), UTC_TIMESTAMP(3))",
    );
    const { folder } = await backUpDatabase(early.db, join(backups, 'early'));
    await restore(await openBackup(folder), other.db, elsewhere);
    const rows = await other.db.many((row) => Number(row.version), 'SELECT version FROM albums');
    expect(rows).toEqual([3]);
    expect(await migrate(other.db)).toEqual([]);
    await expect(stat(join(elsewhere.root, 'files'))).rejects.toThrow('ENOENT');
  } finally {
    await early.drop();
  }
});
