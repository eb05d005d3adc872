import { withSong } from '@oiseau/album/testing';
import { secondsToTicks, ticks } from '@oiseau/audio/time';
import { expect, type Page } from '@playwright/test';
import { HEARD, test } from './installation.js';
import {
  benchField,
  drag,
  inSeconds as s,
  makeAlbum,
  openSecondTransition,
  saved,
  serverAlbum,
  serverTracks,
  soundFile,
  typeInto,
  wavFile,
} from './support.js';

const FRAME = 9_408_000;

/** Three songs; the first from 2 to 12 s on the disc, the second from 14 s. */
const makeThree = (page: Page, first: Parameters<typeof withSong>[2] = {}): Promise<string> =>
  makeAlbum('Marks', [wavFile('a.wav', 1, 12), wavFile('b.wav', 2, 12), wavFile('c.wav', 3, 8)], (album) =>
    withSong(album, 0, { out: secondsToTicks(10), ...first }),
  );
/** 120 beats a minute from the start of the song: on the disc, beats on every half second from 2 s. */
const TEMPO = { bpm: 120, bar: 4, beat: ticks(0) };
const track = async (page: Page, id: string, index: number) => (await serverTracks(id))[index];

test('the start mark and the pause are dragged by their flags, on frames, and Escape takes a drag back', async ({
  page,
}) => {
  const id = await makeThree(page);
  const at = await openSecondTransition(page, id);
  await drag(page, [at(14).x + 3, at(14).y + 27], [at(13.5).x + 3, at(14).y + 27]);
  const lead = (await track(page, id, 1))?.markLead ?? 0;
  expect(s(lead)).toBeCloseTo(0.5, 1);
  expect(lead % FRAME).toBe(0);
  const pauseAt = at(12).y + 46;
  await page.mouse.move(at(12).x + 3, pauseAt);
  await page.mouse.down();
  await page.mouse.move(at(13).x + 3, pauseAt, { steps: 5 });
  await page.keyboard.press('Escape');
  await page.mouse.up();
  await drag(page, [at(12).x + 3, pauseAt], [at(12.8).x + 3, pauseAt]);
  const delay = (await track(page, id, 1))?.pauseDelay ?? 0;
  expect(s(delay)).toBeCloseTo(0.8, 1);
  expect(delay % FRAME).toBe(0);
  // Both can be typed as well, and given up for what the album has.
  await page.getByRole('tab', { name: 'Marks' }).click();
  await typeInto(benchField(page, 'Start mark'), '00:13:60');
  await typeInto(benchField(page, 'Pause'), '00:12:15');
  await saved(page);
  const typed = await track(page, id, 1);
  expect([s(typed?.markLead), s(typed?.pauseDelay)]).toEqual([0.2, 0.2]);
  await page.getByRole('button', { name: 'Reset the start mark to the default lead' }).click();
  await page.getByRole('button', { name: 'Reset the pause to the end of the previous track' }).click();
  await saved(page);
  expect(await track(page, id, 1)).toMatchObject({ markLead: null, pauseDelay: null });
});

test('a song that is dragged is caught by the beat of the one before, and is free with Shift', async ({
  page,
}) => {
  const id = await makeThree(page, { tempo: TEMPO });
  const at = await openSecondTransition(page, id);
  await drag(page, [at(16).x, at(16).bottom], [at(16.55).x, at(16).bottom]);
  // The start of the song comes near the beat at 14.5 s.
  expect(s((await track(page, id, 1))?.gapBefore)).toBe(2.5);
  await page.keyboard.down('Shift');
  await drag(page, [at(16).x, at(16).bottom], [at(16.55).x, at(16).bottom]);
  await page.keyboard.up('Shift');
  const free = (await track(page, id, 1))?.gapBefore ?? 0;
  expect(s(free)).toBeCloseTo(3.05, 1);
  expect(free % FRAME).not.toBe(0);
});

test('a gap is counted in beats and bars, by key and by number', async ({ page }) => {
  const id = await makeThree(page, { tempo: TEMPO });
  await openSecondTransition(page, id);
  await page.keyboard.press('w');
  // Two bars of four beats of half a second
  await expect(benchField(page, 'Gap')).toHaveValue('6 s');
  await page.keyboard.press('w');
  await expect(benchField(page, 'Gap')).toHaveValue('10 s');
  await page.keyboard.press('Shift+W');
  await expect(benchField(page, 'Gap')).toHaveValue('6 s');
  await typeInto(benchField(page, 'Gap'), '3 beats');
  await expect(benchField(page, 'Gap')).toHaveValue('1.5 s');
  // A frame of 1/75 s at a press; presses that follow each other are one step of undo.
  await page.keyboard.press('Alt+ArrowRight');
  await page.keyboard.press('Alt+ArrowRight');
  await page.keyboard.press('Alt+ArrowRight');
  await expect(benchField(page, 'Gap')).toHaveValue('1.54 s');
  await page.keyboard.press('Control+z');
  await expect(benchField(page, 'Gap')).toHaveValue('1.5 s');
  await saved(page);
  expect(s((await track(page, id, 1))?.gapBefore)).toBe(1.5);
});

test('the beat is tapped while the end of the song plays, and corrected', async ({ page }) => {
  const id = await makeThree(page);
  await openSecondTransition(page, id);
  await page.getByRole('tab', { name: 'Beat' }).click();
  await page.keyboard.press('b');
  await expect(page.getByRole('button', { name: 'Stop', exact: true }).first()).toBeVisible();
  await page.waitForTimeout(700);
  // Ten taps, each when the clock of what is heard passes another 400 ms: 150 beats a minute, however fast this machine plays.
  await page.evaluate(
    () =>
      new Promise<void>((resolve) => {
        const beat = (): number => {
          const [minutes, seconds] = (document.querySelector('.transport-clock')?.textContent ?? '').split(
            ':',
          );
          return Math.floor((Number(minutes) * 60 + Number(seconds)) / 0.4 + 1e-6);
        };
        let left = 10;
        let last = beat();
        const tap = (): void => {
          const now = beat();
          if (now > last) {
            document.body.dispatchEvent(
              new KeyboardEvent('keydown', { key: 'b', code: 'KeyB', bubbles: true }),
            );
            last = now;
            left--;
          }
          if (left === 0) resolve();
          else setTimeout(tap, 4);
        };
        tap();
      }),
  );
  await expect(page.getByText('10 taps')).toBeVisible();
  await page.keyboard.press('Space');
  await saved(page);
  const tapped = (await track(page, id, 0))?.tempo;
  expect(Math.abs((tapped?.bpm ?? 0) - 150)).toBeLessThan(3);
  await page.getByRole('button', { name: 'Half' }).click();
  await typeInto(benchField(page, 'Tempo'), '90');
  await page.getByLabel('Beats per bar').selectOption('3');
  await saved(page);
  expect((await track(page, id, 0))?.tempo).toMatchObject({ bpm: 90, bar: 3, beat: tapped?.beat });
});

test('the beat is found in the end of a song, says how sure it is, and is halved and waited for by keys', async ({
  page,
}) => {
  // 30 s of beats of decaying noise, 96 a minute: one each 0.625 s, the first 0.25 s after the start.
  const rate = 44_100;
  const left = Float64Array.from({ length: 30 * rate }, (_, n) => {
    const sinceBeat = (n / rate - 0.25 + 625) % 0.625;
    return ((((n * 7919) % 20_000) - 10_000) / 20_000) * Math.exp(-sinceBeat * 18);
  });
  const id = await makeAlbum('Beats', [soundFile('beat.wav', left), wavFile('b.wav', 2, 12)]);
  await openSecondTransition(page, id);
  await page.getByRole('tab', { name: 'Beat' }).click();
  await page.getByRole('button', { name: 'Find beat' }).click();
  await expect(benchField(page, 'Tempo')).toHaveValue(/^(95\.|96)/);
  await saved(page);
  const tempo = (await track(page, id, 0))?.tempo;
  expect(Math.abs((tempo?.bpm ?? 0) - 96)).toBeLessThan(0.5);
  // A beat lies 0.25 s after a multiple of 0.625 s.
  const beat = (s(tempo?.beat) - 0.25 + 625) % 0.625;
  expect(Math.min(beat, 0.625 - beat)).toBeLessThan(0.03);
  await expect(
    page.getByText(/^Found with (high|medium) confidence.*, in 0:10 to 0:30 of the master\.$/),
  ).toBeVisible();
  await page.getByRole('heading', { name: /into/ }).click();
  await page.keyboard.press('h');
  await expect(benchField(page, 'Tempo')).toHaveValue(/^(47\.|48)/);
  await page.keyboard.press('d');
  await expect(benchField(page, 'Tempo')).toHaveValue(/^(95\.|96)/);
  await page.keyboard.press('e');
  await saved(page);
  // The last beat before the end at 30 s stands 0.25 + 47 · 0.625 = 29.625 s into the song.
  expect(Math.abs(s((await track(page, id, 1))?.gapBefore) + 0.375)).toBeLessThan(0.05);
});

test('index points are set where the song is heard, typed, and taken out', async ({ page }) => {
  const id = await makeThree(page);
  await openSecondTransition(page, id);
  await page.getByRole('tab', { name: 'Marks' }).click();
  await page.getByRole('button', { name: 'Play track 2' }).click();
  await expect(page.getByLabel('Position on the disc', { exact: true })).toHaveText(/^0:1[5-9]/);
  await page.keyboard.press('i');
  await page.keyboard.press('Space');
  const index = benchField(page, 'Index 02 after the start mark');
  await expect(index).toHaveValue(/^00:0[1-5]:\d\d$/);
  await typeInto(index, '00:05:30');
  await saved(page);
  expect((await track(page, id, 1))?.indexes).toEqual([(5 * 75 + 30) * FRAME]);
  await page.getByRole('button', { name: 'Remove index 02' }).click();
  await saved(page);
  expect((await track(page, id, 1))?.indexes).toEqual([]);
});

test('song 1 is hidden in the first pause and shown again; the list of what was done leads back', async ({
  page,
}) => {
  const id = await makeThree(page);
  await openSecondTransition(page, id);
  await page.keyboard.press('p');
  await page.getByRole('tab', { name: 'Marks' }).click();
  await page.getByRole('button', { name: 'Hide before track 1 (pregap)' }).click();
  await expect(page.getByRole('row', { name: 'the hidden track: Song 1' })).toBeVisible();
  // It sounds from 2 to 12 s, and the song that is track 1 now starts where it started before.
  await expect(page.getByLabel('Start of track 1')).toHaveValue('00:14:00');
  await saved(page);
  const hidden = await serverAlbum(id);
  expect(hidden.songs.map(({ title, numbered }) => [title, numbered])).toEqual([
    ['Song 1', false],
    ['Song 2', true],
    ['Song 3', true],
  ]);
  await typeInto(page.getByLabel('Gain of the hidden track'), '-3');
  await page.getByRole('button', { name: 'History' }).click();
  await expect(page.getByRole('button', { name: 'gain of “Song 1” 0.0 dB → −3.0 dB' })).toBeVisible();
  await page.getByRole('button', { name: '“Song 1” hidden before track 1' }).click();
  await expect(page.getByRole('row', { name: 'track 1: Song 1' })).toBeVisible();
  await page.getByRole('button', { name: 'History' }).click();
  await page.getByRole('button', { name: /^gain of “Song 1” 0\.0 dB → −3\.0 dB/ }).click();
  await expect(page.getByLabel('Gain of the hidden track')).toHaveValue('−3.0');
  await page.getByRole('button', { name: 'Show as track 1' }).click();
  await expect(page.getByLabel('Gain of track 1')).toHaveValue('−3.0');
});

test('a drag is heard while it goes on, without a break', { tag: HEARD }, async ({ page }) => {
  const id = await makeThree(page);
  const at = await openSecondTransition(page, id);
  await page.getByLabel('Seconds around the transition').selectOption('2');
  await page.keyboard.press('l');
  await page.keyboard.press('t');
  await expect(page.getByRole('button', { name: 'Stop', exact: true }).first()).toBeVisible();
  await page.mouse.move(at(16).x, at(16).bottom);
  await page.mouse.down();
  for (let i = 1; i <= 30; i++) {
    await page.mouse.move(at(16).x + i * 2, at(16).bottom);
    await page.waitForTimeout(60);
  }
  await page.mouse.up();
  await saved(page);
  expect(s((await track(page, id, 1))?.gapBefore)).toBeGreaterThan(3);
  await expect(page.getByRole('button', { name: 'Stop', exact: true }).first()).toBeVisible();
  await expect(page.getByText('The sound broke off')).toHaveCount(0);
});
