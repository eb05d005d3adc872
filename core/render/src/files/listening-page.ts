import { msg } from '@oiseau/messages';
import { listeningHtml, listeningTexts, readListeningHtml } from '@oiseau/formats/papers';
import type { PlannedListeningPage } from '../planned.js';
import type { RenderPorts } from '../ports.js';
import type { FileKind } from './file-kind.js';
import { equal } from './tests.js';

const sumsOf = async (
  { page }: PlannedListeningPage,
  ports: Pick<RenderPorts, 'digest'>,
): Promise<{ path: string; sha256: string }[]> => {
  const files: { path: string; sha256: string }[] = [];
  for (const { path } of page.parts) files.push({ path, sha256: await ports.digest(path, 'sha256') });
  return files;
};

const LETTERS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/';

/** Bytes as base64 [RFC 4648 4]. */
export function base64(bytes: Uint8Array): string {
  const pieces: string[] = [];
  for (let at = 0; at < bytes.length; at += 3) {
    const [a = 0, b = 0, c = 0] = bytes.subarray(at, at + 3);
    const left = bytes.length - at;
    const letter = (value: number): string => LETTERS.charAt(value & 63);
    pieces.push(
      letter(a >> 2) + letter((a << 4) | (b >> 4)),
      left > 1 ? letter((b << 2) | (c >> 6)) : '=',
      left > 2 ? letter(c) : '=',
    );
  }
  return pieces.join('');
}

/** The page of a folder to listen to; it names the audio beside it by content, and nothing else. */
export const listeningPageFile: FileKind<PlannedListeningPage> = {
  words: () => msg('page with player'),
  bytes: async (file, { input: { cover }, ports }) => {
    const picture = cover && `data:${cover.mediaType};base64,${base64(cover.bytes)}`;
    const texts = await listeningTexts(ports.translator);
    return new TextEncoder().encode(listeningHtml(file.page, await sumsOf(file, ports), picture, texts));
  },
  prove: async (file, source, { ports }) => {
    const html = new TextDecoder('utf-8', { fatal: true }).decode(await source.read(0, source.size));
    const found = readListeningHtml(html);
    const wanted = {
      ...file.page,
      files: await sumsOf(file, ports),
    };
    const same = JSON.stringify(found.page) === JSON.stringify(wanted);
    return [
      equal('text', same ? 'as planned' : 'another', 'as planned'),
      equal('place', found.leadsElsewhere ? 'leads elsewhere' : 'leads nowhere else', 'leads nowhere else'),
    ];
  },
};
