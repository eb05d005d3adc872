// What the measurements of views share: the time to a drawing, frames a second.

import { readdir, readFile } from 'node:fs/promises';

export const round = (value) => Math.round(value * 10) / 10;
export const median = (values) => values.toSorted((a, b) => a - b)[Math.floor(values.length / 2)];

/** Frames a second and the longest wait between two frames while `act` goes on. */
export async function frames(page, act) {
  await page.evaluate(() => {
    const times = (window.frameTimes = []);
    const tick = (time) => {
      times.push(time);
      window.frameTick = requestAnimationFrame(tick);
    };
    window.frameTick = requestAnimationFrame(tick);
  });
  await act();
  const times = await page.evaluate(() => {
    cancelAnimationFrame(window.frameTick);
    return window.frameTimes;
  });
  const waits = times.slice(1).map((time, i) => time - times[i]);
  return {
    framesPerSecond: round((1000 * waits.length) / (times.at(-1) - times[0])),
    longestMs: round(Math.max(...waits)),
  };
}

/** Milliseconds from an act inside the page until the next frame has been drawn; what waits for the drawing, since it may come after it, is not counted. */
export const untilDrawn = (page, act, argument) =>
  page.evaluate(
    ([source, value]) =>
      new Promise((resolve) => {
        const started = performance.now();
        new Function('value', `return (${source})(value)`)(value);
        const drawn = () => resolve(performance.now() - started);
        requestAnimationFrame(() => window.scheduler.postTask(drawn, { priority: 'user-blocking' }));
      }),
    [act.toString(), argument],
  );

/** Resident memory of the largest of the browser's pages, MB. */
export async function tabMemory() {
  let most = 0;
  for (const pid of (await readdir('/proc')).filter((name) => /^\d+$/.test(name))) {
    const command = await readFile(`/proc/${pid}/cmdline`, 'utf8').catch(() => '');
    if (!command.includes('--type=renderer')) continue;
    const status = await readFile(`/proc/${pid}/status`, 'utf8').catch(() => '');
    most = Math.max(most, Number(/VmRSS:\s*(\d+)/.exec(status)?.[1] ?? 0));
  }
  return Math.round(most / 1024);
}
