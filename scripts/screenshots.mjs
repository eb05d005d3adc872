// npm run screenshots: one current picture of each main view, from the demo data, into docs/screenshots/.
import { spawnSync } from 'node:child_process';
import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { apiOf, signIn } from './api.ts';
import { ensureBuilt, ROOT } from './build.mjs';
import { CHROMIUM_FLAGS } from './chromium.ts';
import { runApplication } from './run.ts';
import { findProgram, installMissing, NEEDED_FOR_TESTS } from './system.ts';

installMissing(NEEDED_FOR_TESTS);
await ensureBuilt(['server', 'worker', 'demo', 'web']);
const { chromium } = await import('@playwright/test');
const data = await mkdtemp(join(tmpdir(), 'oiseau-shots-'));
const application = await runApplication({ data, port: 0, workers: 2 });
const browser = await chromium.launch({ executablePath: findProgram('chromium'), args: CHROMIUM_FLAGS });
try {
  spawnSync(process.execPath, [join(ROOT, 'dist/demo.mjs'), application.url, application.keyFile], {
    stdio: 'inherit',
  });
  const { call, address, CONTRACT } = apiOf(application);
  const { albums } = await call(CONTRACT.shelf, { query: {} });
  const { id } = albums.find(({ title }) => title === 'Nine Tides');
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  await signIn(context, application);
  const page = await context.newPage();
  const goTo = async (path) => {
    await page.goto(`${application.url}${path}`);
    await page.waitForLoadState('networkidle');
    await page.waitForTimeout(400);
  };
  const take = (name) => page.screenshot({ path: join(ROOT, 'docs/screenshots', `${name}.png`) });
  for (const album of albums) {
    for (;;) {
      const masters = await call(CONTRACT.masters, { params: album, query: {} });
      if (masters.every(({ measurement }) => measurement)) break;
      await page.waitForTimeout(500);
    }
  }
  await goTo('/');
  await take('shelf');
  await call(CONTRACT.verify, {});
  while ((await call(CONTRACT.keeping, {})).verifying?.state !== 'done') await page.waitForTimeout(500);
  await goTo('/keeping');
  await take('keeping');
  await goTo(`/albums/${id}/masters`);
  await take('masters');
  await page.getByRole('link', { name: '05_keepers_round.wav' }).click();
  await page.waitForTimeout(1500);
  await take('master');
  const recital = albums.find(({ title }) => title === 'Carillon, Low Water').id;
  await goTo(`/albums/${recital}/masters`);
  await page.getByRole('link', { name: 'carillon_low_water.wav' }).click();
  await page.getByRole('link', { name: 'Cut into tracks' }).click();
  await page.getByRole('button', { name: 'Cut at silences' }).click();
  await page.waitForTimeout(800);
  await take('cut');
  const record = albums.find(({ title }) => title === 'Stair of Salt').id;
  await goTo(`/albums/${record}/sequence`);
  await page.waitForTimeout(1500);
  await take('parts');
  await goTo(`/albums/${record}/masters/alternates`);
  await page.getByText('in sync').first().waitFor({ timeout: 60_000 });
  await take('recordings');
  await goTo(`/albums/${record}/checks/pq-sheet`);
  await page.locator('.side-course .recharts-area').waitFor({ timeout: 60_000 });
  await page.getByRole('button', { name: 'Use the dim theme' }).click();
  await page.waitForTimeout(500);
  await take('side');
  await page.getByRole('button', { name: 'Use the light theme' }).click();
  await goTo(`/albums/${id}/sound`);
  await page.getByRole('button', { name: /Slack Water/ }).click();
  await page.locator('.band-choice button').first().click();
  await page
    .locator('.song-figures', { hasText: /measuring|not known/ })
    .first()
    .waitFor({ state: 'detached', timeout: 120_000 });
  await page.waitForTimeout(1500);
  await take('sound');
  await goTo(`/albums/${id}/sleeve`);
  const cells = page
    .getByRole('grid', { name: 'Text and codes' })
    .getByRole('row')
    .nth(6)
    .getByRole('gridcell');
  await cells.first().click();
  await take('sleeve');
  await page.getByLabel('UPC/EAN', { exact: true }).fill('2026110900013');
  await page.getByLabel('UPC/EAN', { exact: true }).press('Enter');
  await page.getByRole('link', { name: /Checks/ }).click();
  await page.waitForTimeout(600);
  await take('checks');
  await page.getByRole('link', { name: 'PQ sheet' }).click();
  await page.waitForTimeout(300);
  await take('pq-sheet');
  await page.keyboard.press('Control+Z');
  await page.locator('.saved-state', { hasText: /^saved$/ }).waitFor();
  await goTo(`/albums/${id}/editions`);
  await page.waitForTimeout(1500);
  await take('editions');
  await goTo(`/albums/${id}/sequence`);
  await page.keyboard.press('n');
  await page.getByRole('button', { name: 'Crossfade' }).click();
  await page.waitForTimeout(600);
  await page.keyboard.press('t');
  await page.waitForTimeout(4500);
  await take('sequence');
  await page.keyboard.press('t');
  await page.keyboard.press('Control+Z');
  await goTo(`/albums/${id}/render`);
  for (const preset of [/^reference/]) {
    await page.getByRole('button', { name: 'Add a deliverable' }).click();
    await page.locator('.preset-menu').getByRole('button', { name: preset }).click();
    await page.waitForTimeout(400);
  }
  await page.getByPlaceholder('your name').fill('Ada');
  await page.getByRole('button', { name: /^Render 6/ }).click();
  await page.locator('.delivery.done').first().waitFor({ timeout: 180_000 });
  await page.locator('.delivery.running').first().waitFor({ timeout: 180_000 });
  await page.mouse.move(640, 780);
  await take('render');
  await page.locator('.delivery.done').nth(5).waitFor({ timeout: 180_000 });
  await page
    .locator('.delivery', { hasText: 'reference' })
    .getByRole('link', { name: 'Proof', exact: true })
    .click();
  // Its outlines are made when they are asked for the first time.
  await page.waitForTimeout(20_000);
  await page.keyboard.press('m');
  await page.waitForTimeout(800);
  await take('proof');
  // To every recipient that takes it; the drive waits for a second disc.
  const receivers = await call(CONTRACT.receivers, {});
  const proved = await call(CONTRACT.deliveries, { params: { id } });
  // To a listener without a key, who adds a note and responds.
  const heard = proved.find(({ deliverable }) => deliverable.name === 'files');
  const until = new Date(Date.now() + 14 * 86_400_000).toISOString();
  const { id: invitation, secret } = await call(CONTRACT.invite, {
    params: heard,
    body: { name: 'Ebba Thole', endsAt: until, by: 'Ada' },
  });
  const stranger = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  const theirs = await stranger.newPage();
  await theirs.goto(`${application.url}/listen/${invitation}#${secret}`);
  await theirs.getByRole('button', { name: /Lantern Oil/ }).click();
  // The button waits until the rendered files are open.
  await theirs.getByRole('button', { name: 'Add a note here' }).click();
  await theirs.getByRole('textbox', { name: /^Note at/ }).fill('could the bell ring out a little longer?');
  await theirs.waitForTimeout(1500);
  await theirs.screenshot({ path: join(ROOT, 'docs/screenshots/listener.png') });
  await theirs.getByLabel('Request a change').check();
  await theirs.getByLabel('Comment').fill('Nearly there: one note.');
  await theirs.getByRole('button', { name: 'Send response' }).click();
  await theirs.getByText('You requested a change').waitFor();
  await stranger.close();
  for (const [name, kind] of [
    ['plant', 'plant'],
    ['files', 'service'],
    ['shop', 'shop'],
    ['plant', 'drive'],
  ])
    await call(CONTRACT.handOver, {
      params: proved.find(({ deliverable }) => deliverable.name === name),
      body: {
        receiver: receivers.find((each) => each.kind === kind).id,
        by: 'Ada',
        ...(kind === 'drive' ? { writing: { speed: 48, copies: 2 } } : {}),
      },
    });
  const delivery = proved.find(({ deliverable }) => deliverable.name === 'plant').id;
  await goTo(`/albums/${id}/handover?delivery=${delivery}`);
  await page.locator('.handed', { hasText: 'waiting for a blank disc' }).waitFor({ timeout: 180_000 });
  await page.locator('.handed.good').nth(2).waitFor({ timeout: 60_000 });
  await take('handover');
  // The folder for the plant, as another house would open it.
  const deliveries = await call(CONTRACT.deliveries, { params: { id } });
  const plant = deliveries.find(({ deliverable }) => deliverable.name === 'plant');
  const files = await call(CONTRACT.deliveryFiles, { params: plant });
  const brought = [];
  for (const { path } of files.filter(({ path: name }) => name !== 'proof.json')) {
    const response = await context.request.get(
      address(CONTRACT.deliveryFile, { params: { id: plant.id, path } }),
    );
    const folder = join(data, 'brought');
    await mkdir(folder, { recursive: true });
    await writeFile(join(folder, path), await response.body());
    brought.push(join(folder, path));
  }
  await goTo('/');
  await page.getByLabel('Files of a disc image').setInputFiles(brought);
  await page.getByRole('status').waitFor({ timeout: 60_000 });
  await page.getByLabel('Album to compare with').selectOption('Nine Tides');
  await page.waitForTimeout(1200);
  await take('image');
} finally {
  await browser.close();
  await application.stop();
  await rm(data, { recursive: true, force: true });
}
