// npm run torture [-- KILLS]: kills and freezes every process at random moments while albums are edited, masters come in, renders are made and
// handed over to a plant that takes them slowly; then looks whether anything that was acknowledged is lost, anything half-done stands, anything
// was sent twice, and everything is back. Bounded: about four seconds a kill.
import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { once } from 'node:events';
import { mkdtemp, readdir, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { ask, CONTRACT, fetchWithKey } from '@oiseau/api';
import { ensureBuilt, ROOT } from './build.mjs';
import { installMissing, NEEDED } from './system.ts';

const KILLS = Number(process.argv[2] ?? 200);
/** A process that dies more often in a minute is given up by its supervisor: that is meant so, and not what is tried here. */
const MOST_IN_A_MINUTE = 3;

installMissing(NEEDED);
await ensureBuilt(['server', 'worker', 'maintenance', 'standins']);
const data = await mkdtemp(join(tmpdir(), 'oiseau-torture-'));
const started = performance.now();
const seconds = () => ((performance.now() - started) / 1000).toFixed(0).padStart(4);
const say = (words) => console.log(`${seconds()} s  ${words}`);
const random = (count) => Math.floor(Math.random() * count);

/** The application as a user starts it: a process that can be killed. */
let application;
let port = 0;
async function start() {
  const child = spawn(process.execPath, [join(ROOT, 'scripts/script.mjs'), 'start'], {
    env: {
      ...process.env,
      OISEAU_DATA: data,
      OISEAU_PORT: String(port),
      OISEAU_DEMO: 'off',
      OISEAU_LOG: 'error',
      OISEAU_STANDIN_PACE_MS: '2',
    },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let said = '';
  const ready = new Promise((resolve, reject) => {
    for (const stream of [child.stdout, child.stderr])
      stream.on('data', (text) => {
        said += text;
        failures.push(
          ...String(text)
            .split('\n')
            .filter((line) => line.includes('job failed')),
        );
        if (said.includes('is ready')) resolve();
      });
    child.once('exit', () => reject(new Error(`It did not start: ${said}`)));
  });
  ready.catch(() => undefined);
  await ready;
  const [, address, key] = /(http\S+)\/#key=([\w-]+)/.exec(said);
  port = Number(new URL(address).port);
  application = {
    child,
    call: (endpoint, given, options) => ask(fetchWithKey(address, key), endpoint, given, options),
  };
}

/** Processes below the one that was started, by what they are. */
async function processes() {
  const found = [];
  const visit = async (pid) => {
    const children = await readFile(`/proc/${pid}/task/${pid}/children`, 'utf8').catch(() => '');
    for (const child of children.split(' ').filter(Boolean).map(Number)) {
      const command = await readFile(`/proc/${child}/cmdline`, 'utf8').catch(() => '');
      const name = ['server', 'worker', 'standins'].find((each) => command.includes(`dist/${each}.mjs`));
      if (name) found.push({ name, pid: child });
      else if (command.includes('mariadbd')) found.push({ name: 'database', pid: child });
      await visit(child);
    }
  };
  await visit(application.child.pid);
  return found;
}

const isAlive = (pid) => {
  try {
    process.kill(pid, 0);
    return true;
  } catch {
    return false;
  }
};

/** What a killed start has left ends by itself, soon. */
async function noneLeft(below) {
  for (let tries = 0; tries < 120 && below.some(({ pid }) => isAlive(pid)); tries++) await sleep(250);
  for (const { name, pid } of below)
    if (isAlive(pid)) faults.push(`The ${name} ${pid} outlives what has started it.`);
}

const counts = {};
const note = (what) => (counts[what] = (counts[what] ?? 0) + 1);
let over = false;
const acknowledged = { edit: 0, masters: new Set(), renders: 0, handovers: new Set() };
const faults = [];
/** What workers have said of jobs that failed. */
const failures = [];

/** Repeats an action; failures caused by a kill don't count. */
async function actor(name, work) {
  while (!over) {
    try {
      await work();
      note(`${name} done`);
    } catch (error) {
      note(`${name} broken off`);
      if (error.status >= 400 && error.status < 500 && ![404, 408, 409, 429].includes(error.status))
        faults.push(`${name}: ${error.message}`);
      await sleep(200);
    }
  }
}

/** A second and more of noise, another each time. */
let made = 0;
function wav() {
  made++;
  const words = new Uint8Array(44 + 4 * 44_100 * (4 + random(3)));
  for (let i = 44, state = made; i < words.length; i++)
    words[i] = (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) >>> 24;
  const view = new DataView(words.buffer);
  const text = (at, letters) =>
    [...letters].forEach((letter, i) => view.setUint8(at + i, letter.charCodeAt(0)));
  text(0, 'RIFF');
  view.setUint32(4, words.length - 8, true);
  text(8, 'WAVEfmt ');
  view.setUint32(16, 16, true);
  for (const [at, value] of [
    [20, 1],
    [22, 2],
    [32, 4],
    [34, 16],
  ])
    view.setUint16(at, value, true);
  view.setUint32(24, 44_100, true);
  view.setUint32(28, 176_400, true);
  text(36, 'data');
  view.setUint32(40, words.length - 44, true);
  return words;
}

/** What stands for a plant: its address and token, and what has arrived there. */
const standIns = async () => JSON.parse(await readFile(join(data, 'standins', 'receivers.json'), 'utf8'));
const plant = async () => (await standIns()).find(({ kind }) => kind === 'plant');
const plantId = async () =>
  (await application.call(CONTRACT.receivers, {})).find(({ kind, standIn }) => kind === 'plant' && standIn)
    .id;
const handedOver = (id) => application.call(CONTRACT.handovers, { params: { id } });
async function behave(mode) {
  const { url, token } = await plant();
  const headers = { Authorization: `Bearer ${token}`, 'Content-Type': 'application/json' };
  await fetch(`${url}/behaviour`, { method: 'PUT', headers, body: JSON.stringify({ mode }) });
}
/** The shipments that the plant has, as they lie on its disk. */
async function shipments() {
  const folder = join(data, 'standins', 'plant', 'shipments');
  const all = await readdir(folder).catch(() => []);
  return Promise.all(
    all.map(async (name) => {
      const { reference, files } = JSON.parse(await readFile(join(folder, name, 'shipment.json'), 'utf8'));
      const sums = await Promise.all(
        files.map(async (_, place) =>
          createHash('sha256')
            .update(await readFile(join(folder, name, 'files', String(place))).catch(() => Buffer.alloc(0)))
            .digest('hex'),
        ),
      );
      return { reference, isWhole: files.every(({ sha256 }, place) => sums[place] === sha256) };
    }),
  );
}

try {
  await start();
  const first = await application.call(
    CONTRACT.sendLooseMaster,
    { query: { name: 'first.wav' } },
    { file: wav() },
  );
  const file = JSON.stringify({
    ...{ format: 'oiseau-album', version: 1, title: 'edit 0' },
    tracks: [{ master: 'first.wav', title: 'Song' }],
    deliverables: [
      { name: 'plant', kind: 'ddp' },
      { name: 'store', kind: 'tracks', format: 'flac' },
    ],
  });
  const { id } = await application.call(CONTRACT.importAlbum, {
    body: { file, masters: { 'first.wav': first.sha256 } },
  });
  acknowledged.masters.add(first.sha256);

  const actors = [
    actor('edit', async () => {
      const { version, album } = await application.call(CONTRACT.album, { params: { id } });
      const there = Number(/\d+/.exec(album.title)[0]);
      if (there < acknowledged.edit)
        faults.push(`edit ${acknowledged.edit} was acknowledged and is lost: ${there} is there`);
      const next = Math.max(there, acknowledged.edit) + 1;
      await application.call(CONTRACT.saveAlbum, {
        params: { id },
        body: { version, album: { ...album, title: `edit ${next}` } },
      });
      acknowledged.edit = next;
      await sleep(20);
    }),
    actor('master', async () => {
      const { sha256 } = await application.call(
        CONTRACT.sendMaster,
        { params: { id }, query: { name: `m${made}.wav` } },
        { file: wav() },
      );
      acknowledged.masters.add(sha256);
      await sleep(300);
    }),
    actor('render', async () => {
      await application.call(CONTRACT.orderRenders, { params: { id }, body: {} });
      for (let waits = 0; waits < 60 && !over; waits++) {
        const all = await application.call(CONTRACT.deliveries, { params: { id } });
        if (all.every(({ state }) => state !== 'queued' && state !== 'running')) return;
        await sleep(500);
      }
    }),
    actor('handover', async () => {
      await behave('slow');
      const all = await application.call(CONTRACT.deliveries, { params: { id } });
      const ready = all.find(({ deliverable, proof }) => deliverable.name === 'plant' && proof?.proved);
      if (ready) {
        const { id: handover } = await application.call(CONTRACT.handOver, {
          params: { id: ready.id },
          body: { receiver: await plantId() },
        });
        acknowledged.handovers.add(handover);
      }
      for (let waits = 0; waits < 20 && !over; waits++) {
        if ((await handedOver(id)).every(({ state }) => state !== 'queued' && state !== 'running')) return;
        await sleep(500);
      }
    }),
  ];

  const deaths = [];
  for (let kills = 0; kills < KILLS;) {
    await sleep(200 + random(3500));
    const whole = random(6) === 0;
    if (whole) {
      const below = await processes();
      application.child.kill('SIGKILL');
      note('killed: everything');
      kills++;
      await noneLeft(below);
      await start();
      continue;
    }
    const all = await processes();
    const { name, pid } = all[random(all.length)] ?? {};
    const recent = deaths.filter((death) => death.name === name && performance.now() - death.at < 60_000);
    if (!pid || recent.length >= MOST_IN_A_MINUTE) continue;
    if (random(8) === 0) {
      // Frozen, as a machine that sleeps is: a worker for so long that it is taken for dead.
      const ms = name === 'worker' ? 18_000 : 2000;
      process.kill(pid, 'SIGSTOP');
      await sleep(ms);
      try {
        process.kill(pid, 'SIGCONT');
      } catch {
        // It has ended meanwhile.
      }
      note(`frozen: ${name}`);
    } else {
      process.kill(pid, 'SIGKILL');
      deaths.push({ name, at: performance.now() });
      note(`killed: ${name}`);
    }
    kills++;
    if (kills % 20 === 0) say(`${kills} of ${KILLS}`);
  }

  over = true;
  await Promise.all(actors);
  say('All kills are done; is everything back?');
  await behave('none').catch(() => undefined);
  for (let tries = 0; ; tries++) {
    const health = await application.call(CONTRACT.health, {}).catch(() => null);
    if (health?.ok && health.queue.queued + health.queue.running === 0) break;
    if (tries > 240) throw new Error(`It did not come back: ${JSON.stringify(health)}`);
    await sleep(500);
  }
  const { album } = await application.call(CONTRACT.album, { params: { id } });
  if (Number(/\d+/.exec(album.title)[0]) < acknowledged.edit)
    faults.push(`The last edit is lost: ${album.title}`);
  const masters = await application.call(CONTRACT.masters, { params: { id }, query: {} });
  for (const sha256 of acknowledged.masters)
    if (!masters.some((master) => master.sha256 === sha256 && master.measurement))
      faults.push(`The master ${sha256} was acknowledged and is lost or not measured.`);
  const deliveries = await application.call(CONTRACT.deliveries, { params: { id } });
  const states = {};
  for (const { state, message, proof } of deliveries) {
    states[state] = (states[state] ?? 0) + 1;
    if (state === 'done' && !proof?.proved) faults.push('A render is done and not proved.');
    if (state === 'failed' && !/killed|stopped/.test(message ?? ''))
      faults.push(`A render failed: ${message}`);
  }
  const handovers = await handedOver(id);
  const arrived = await shipments();
  for (const handover of acknowledged.handovers) {
    const there = handovers.find((each) => each.id === handover);
    const got = arrived.filter(({ reference }) => reference === handover);
    if (there?.state !== 'done')
      faults.push(`A hand-over was acknowledged and is ${there?.state ?? 'lost'}: ${there?.message ?? ''}`);
    else if (got.length !== 1 || !got[0].isWhole)
      faults.push(
        `A hand-over is ${there.told?.state} and arrived ${got.length} times, whole: ${got[0]?.isWhole}.`,
      );
    else if (there.told?.reasons.length > 0)
      faults.push(`A hand-over was refused: ${there.told.reasons[0].message}`);
  }
  await application.call(CONTRACT.verify, {});
  for (;;) {
    const { verifying, verified } = await application.call(CONTRACT.keeping, {});
    if (verifying?.state === 'failed') throw new Error(verifying.message);
    if (verifying?.state === 'done' && verified) {
      faults.push(...verified.report.faults.map(({ words }) => words));
      break;
    }
    await sleep(500);
  }
  const left = (await readdir(join(data, 'media'), { recursive: true })).filter((name) =>
    /\.partial(\/|$)/.test(name),
  );
  if (left.length > 0) faults.push(`Half-done folders are left: ${left.slice(0, 3).join(', ')}`);
  say(
    `edits acknowledged: ${acknowledged.edit}; masters: ${acknowledged.masters.size}; hand-overs: ${acknowledged.handovers.size}; renders: ${JSON.stringify(states)}`,
  );
  say(
    Object.entries(counts)
      .map(([what, count]) => `${what} ${count}`)
      .join(', '),
  );
  for (const fault of faults.slice(0, 20)) console.error(fault);
  if (faults.length > 0) for (const line of failures.slice(-5)) console.error(line);
  say(
    faults.length === 0
      ? 'Nothing is lost, nothing is half-done, everything is back.'
      : `${faults.length} faults.`,
  );
} finally {
  over = true;
  if (application && application.child.exitCode === null && application.child.signalCode === null) {
    application.child.kill('SIGINT');
    await once(application.child, 'exit');
  }
  await rm(data, { recursive: true, force: true });
}
process.exit(faults.length === 0 ? 0 : 1);
