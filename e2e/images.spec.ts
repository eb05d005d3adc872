import { addressOf, CONTRACT } from '@oiseau/api';
import { deliverableSchema } from '@oiseau/album/model';
import { expect } from '@playwright/test';
import { test } from './installation.js';
import { unzipSync } from 'fflate';
import { call, makeAlbum, url, wavFile } from './support.js';

test('a folder of another house is opened, compared with a revision and taken in', async ({ page }) => {
  const id = await makeAlbum('Brought back', [wavFile('p.wav', 20, 5), wavFile('q.wav', 21, 6)], (album) => ({
    ...album,
    deliverables: [deliverableSchema.parse({ name: 'plant', kind: 'ddp' })],
  }));
  await call(CONTRACT.orderRenders, { params: { id }, body: {} });
  const deliveries = () => call(CONTRACT.deliveries, { params: { id }, query: {} });
  await expect.poll(async () => (await deliveries())[0]?.state, { timeout: 60_000 }).toBe('done');
  const zip = await page.request.get(
    url(addressOf(CONTRACT.deliveryZip, { params: { id: (await deliveries())[0]?.id ?? '' } })),
  );
  const files = Object.entries(unzipSync(await zip.body())).map(([path, bytes]) => ({
    name: path.replace('plant/', ''),
    mimeType: 'application/octet-stream',
    buffer: Buffer.from(bytes),
  }));
  // The proof is ours; a plant's folder does not have it.
  const brought = files.filter(({ name }) => name !== 'proof.json');

  await page.goto(url('/'));
  await page.getByLabel('Files of a disc image').setInputFiles(brought);
  await expect(page.getByRole('status')).toContainText(
    'No errors. Sizes, marks, codes, text and checksums agree.',
  );
  // 2 + 5 + 2 s
  await expect(page.getByRole('cell', { name: '00:09:00' })).toBeVisible();
  await page.getByLabel('Album to compare with').selectOption('Brought back');
  await expect(page.getByText('The image matches the revision: text, codes and all times.')).toBeVisible();
  await page.getByRole('button', { name: 'Import as a new album' }).click();
  await expect(page.getByLabel('Start of track 2')).toHaveValue('00:09:00');
  await expect(page.getByLabel('Title of track 1')).toHaveValue('Song 1');

  await page.goto(url('/'));
  const damaged = brought.map((file) =>
    file.name === 'IMAGE.DAT' ? { ...file, buffer: file.buffer.subarray(0, 2352 * 1000) } : file,
  );
  await page.getByLabel('Files of a disc image').setInputFiles(damaged);
  await expect(page.getByRole('status')).toContainText('3 faults.');
  await expect(page.getByRole('list', { name: 'Errors' })).toContainText(
    'IMAGE.DAT has 1000 sectors; DDPMS says 1125.',
  );

  await page.goto(url('/'));
  await page
    .getByLabel('Files of a disc image')
    .setInputFiles([{ name: 'notes.txt', mimeType: 'text/plain', buffer: Buffer.from('only words') }]);
  await expect(page.getByRole('alert')).toContainText('This isn’t a disc image: DDPID is missing.');
});
