// npm run dev: the application with demo albums on a data folder of its own. A change of the interface is in the page at once; a change of
// anything else is built, and server, workers and simulated recipients are started again.
import type { ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { watch } from 'node:fs';
import { join, resolve } from 'node:path';
import { createServer, type ViteDevServer } from 'vite';
import { ensureBuilt, ROOT } from './build.mjs';
import { startDemo } from './demo-albums.js';
import { Application } from './run.js';
import { installMissing, messageOf, NEEDED, Plain } from './system.js';

const DEFAULT_PORT = 4690;
const PROGRAMS = ['server', 'worker', 'standins', 'demo', 'web'];
/** Parts that these programs are built from; Vite looks after the interface itself. */
const WATCHED = ['core', 'api', 'host', 'server', 'standins'];
/** An editor writes several files at a time: what comes within this is one change. */
const SETTLED_MS = 200;

/** Builds and starts again after each change, one at a time. */
function restartOnChange(application: Application): void {
  let timer: ReturnType<typeof setTimeout> | undefined;
  let busy = Promise.resolve();
  const again = async (): Promise<void> => {
    try {
      const built: string[] = [];
      await ensureBuilt(
        PROGRAMS.filter((name) => name !== 'web'),
        (line) => built.push(line),
      );
      if (built.length === 0) return;
      console.log(built.join('\n'));
      await application.restart();
    } catch (error) {
      // A program that does not build leaves the last one running.
      console.error(messageOf(error));
    }
  };
  for (const part of WATCHED)
    watch(join(ROOT, part), { recursive: true }, (_, path) => {
      if (path?.includes('node_modules')) return;
      clearTimeout(timer);
      timer = setTimeout(() => (busy = busy.then(again)), SETTLED_MS);
    });
}

async function main(): Promise<void> {
  installMissing(NEEDED);
  await ensureBuilt(PROGRAMS, (line) => console.log(line));
  const port = Number(process.env.OISEAU_PORT ?? DEFAULT_PORT);
  // The page has the address of Vite, which passes calls on: the server must go by that name.
  process.env.OISEAU_PUBLIC_URL = `http://localhost:${port}`;
  const application = new Application();
  const pages: ViteDevServer[] = [];
  let demo: ChildProcess | null = null;
  let ending = false;
  const end = async (status: number): Promise<void> => {
    if (ending) return;
    ending = true;
    demo?.kill('SIGTERM');
    await pages[0]?.close();
    await application.stop();
    process.exit(status);
  };
  process.on('SIGINT', () => void end(0));
  process.on('SIGTERM', () => void end(0));
  const data = resolve(process.env.OISEAU_DATA ?? join(ROOT, 'data-dev'));
  const started = await application.start({ data, port: 0, workers: 1 });
  started.failed.catch((error: unknown) => {
    console.error(messageOf(error));
    void end(1);
  });
  demo = await startDemo(started);
  if (demo) await once(demo, 'exit');
  if (ending) return;
  const vite = await createServer({
    root: join(ROOT, 'web'),
    configFile: join(ROOT, 'web/vite.config.ts'),
    server: { port, strictPort: true, proxy: { '/api': started.url } },
  });
  pages.push(vite);
  await vite.listen();
  restartOnChange(application);
  console.log(`Oiseau for development: http://localhost:${port}/#key=${started.key}   (Ctrl-C ends it)`);
}

main().catch((error: unknown) => {
  console.error(error instanceof Plain ? error.message : `Oiseau could not start: ${messageOf(error)}`);
  process.exitCode = 1;
});
