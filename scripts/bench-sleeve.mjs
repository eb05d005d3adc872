// How quickly the Sleeve takes a paste of all its cells, and the Checks an edit.
import { median, round, untilDrawn } from './bench-page.mjs';

const COLUMNS = 8;

/** @param address of the album, @param tracks that it has */
export async function sleeve(page, address, tracks) {
  await page.goto(`${address}/sleeve`);
  await page.getByRole('tab', { name: 'More text, flags' }).click();
  const first = page
    .getByRole('grid', { name: 'Text and codes' })
    .getByRole('row')
    .nth(2)
    .getByRole('gridcell')
    .first();
  const pastes = [];
  for (let i = 0; i < 7; i++) {
    await first.click();
    const row = (track) =>
      [`Piece ${track} of ${i}`, `message ${i}`, `comment ${i}`, 'Low Light', 'en', 'clean', 'yes', ''].join(
        '\t',
      );
    const text = Array.from({ length: tracks }, (_, track) => row(track + 1)).join('\r\n');
    pastes.push(
      await untilDrawn(
        page,
        (data) => {
          const clipboardData = new DataTransfer();
          clipboardData.setData('text/plain', data);
          document.activeElement.dispatchEvent(
            new ClipboardEvent('paste', { clipboardData, bubbles: true, cancelable: true }),
          );
        },
        text,
      ),
    );
    await page.waitForTimeout(800);
  }
  await page.getByRole('link', { name: /^Checks/ }).click();
  await page.waitForTimeout(500);
  const checks = [];
  for (let i = 0; i < 6; i++) {
    const key = { key: i % 2 === 0 ? 'z' : 'y', ctrlKey: true, bubbles: true, cancelable: true };
    checks.push(
      await untilDrawn(page, (init) => window.dispatchEvent(new KeyboardEvent('keydown', init)), key),
    );
    await page.waitForTimeout(800);
  }
  return {
    paste: `${tracks} × ${COLUMNS} cells`,
    pasteMs: pastes.map(round),
    checksAfterEditMs: { median: round(median(checks)), all: checks.map(round) },
  };
}
