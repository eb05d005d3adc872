// npm start: installs what is missing, builds what is out of date, and runs the application until Ctrl-C.
import type { ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { join, resolve } from 'node:path';
import { ensureBuilt, ROOT } from './build.mjs';
import { startDemo } from './demo-albums.js';
import { Application, workersWanted, type Started } from './run.js';
import { installMissing, messageOf, NEEDED, Plain } from './system.js';

const DEFAULT_PORT = 4680;

async function main(): Promise<void> {
  const port = Number(process.env.OISEAU_PORT ?? DEFAULT_PORT);
  if (!Number.isInteger(port) || port < 0 || port > 65_535)
    throw new Plain(`OISEAU_PORT=${process.env.OISEAU_PORT} isn’t a port number.`);
  const application = new Application();
  let ending = false;
  let demo: ChildProcess | null = null;
  const end = async (status: number): Promise<void> => {
    if (ending) return;
    ending = true;
    demo?.kill('SIGTERM');
    await application.stop();
    process.exit(status);
  };
  // Registered before the first child is started, so that stopping a start leaves nothing running.
  process.on('SIGINT', () => void end(0));
  process.on('SIGTERM', () => void end(0));

  installMissing(NEEDED);
  await ensureBuilt(['server', 'worker', 'standins', 'demo', 'cli', 'web'], (line) => console.log(line));
  const data = resolve(process.env.OISEAU_DATA ?? join(ROOT, 'data'));
  const workers = workersWanted();
  let started: Started;
  try {
    started = await application.start({ data, port, workers });
  } catch (error) {
    if (ending) return;
    await application.stop();
    throw error;
  }
  started.failed.catch((error: unknown) => {
    console.error(messageOf(error));
    void end(1);
  });

  demo = await startDemo(started);
  if (demo) {
    const [status] = (await once(demo, 'exit')) as [number | null];
    if (ending) return;
    if (status !== 0) console.error('The demo albums couldn’t be created. Oiseau works without them.');
  }
  const address = process.env.OISEAU_PUBLIC_URL ?? started.url;
  console.log(`Oiseau is ready: ${address.replace(/\/$/, '')}/#key=${started.key}   (Ctrl-C ends it)`);
}

main().catch((error: unknown) => {
  console.error(error instanceof Plain ? error.message : `Oiseau could not start: ${messageOf(error)}`);
  process.exitCode = 1;
});
