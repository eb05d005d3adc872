import { describe, expect, it } from 'vitest';
import { ByteWriter, memorySource } from './bytes.js';
import { readEmbeddedText, type EmbeddedText } from './embedded-text.js';
import { readWavInfo } from './wav-read.js';

type Body = (out: ByteWriter) => ByteWriter;

/** A stereo 16-bit WAV file of 4 samples, with chunks before and behind its audio. */
async function textOf(...chunks: [string, Body][]): Promise<EmbeddedText> {
  const out = new ByteWriter().latin1('RIFF').u32(0).latin1('WAVE');
  out.latin1('fmt ').u32(16).u16(1).u16(2).u32(44_100).u32(176_400).u16(4).u16(16);
  out.latin1('data').u32(16).raw(new Uint8Array(16));
  for (const [id, body] of chunks) {
    const bytes = body(new ByteWriter()).done();
    out.latin1(id).u32(bytes.length).raw(bytes);
    if (bytes.length % 2) out.raw([0]);
  }
  const source = memorySource(out.done());
  return readEmbeddedText(source, await readWavInfo(source));
}

const sub = (out: ByteWriter, id: string, bytes: Uint8Array): ByteWriter => {
  out.latin1(id).u32(bytes.length).raw(bytes);
  return bytes.length % 2 ? out.raw([0]) : out;
};
const utf8 = (text: string): Uint8Array => new TextEncoder().encode(text);

describe('what a WAV file says of itself', () => {
  it('is read from LIST INFO, in UTF-8 and in the older ISO 8859-1', async () => {
    const { fields } = await textOf([
      'LIST',
      (out) => {
        out.latin1('INFO');
        sub(out, 'INAM', utf8('Möwe\0'));
        sub(out, 'IART', Uint8Array.of(0x4d, 0xf6, 0x77, 0x65));
        return sub(out, 'ISRC', utf8('a tape'));
      },
    ]);
    expect(fields).toEqual({ title: 'Möwe', performer: 'Möwe' });
  });

  it('is read from bext and axml', async () => {
    const { fields } = await textOf(
      ['bext', (out) => out.latin1('Side one'.padEnd(256, '\0')).raw(new Uint8Array(346))],
      ['axml', (out) => out.raw(utf8('<dc:identifier>ISRC:ZZOIS2600004</dc:identifier>'))],
    );
    expect(fields).toEqual({ comment: 'Side one', isrc: 'ZZOIS2600004' });
  });

  it('has cue points in the order of the audio, with their labels', async () => {
    const { cues } = await textOf(
      [
        'cue ',
        (out) => {
          out.u32(3);
          for (const [mark, at] of [
            [1, 3],
            [2, 1],
            [3, 99],
          ] as const)
            out.u32(mark).u32(0).latin1('data').u32(0).u32(0).u32(at);
          return out;
        },
      ],
      ['LIST', (out) => sub(out.latin1('adtl'), 'labl', Uint8Array.of(2, 0, 0, 0, ...utf8('Ebb\0')))],
    );
    // The mark at sample 99 lies behind the audio of 4 samples.
    expect(cues).toEqual([
      { at: 1, name: 'Ebb' },
      { at: 3, name: '' },
    ]);
  });

  it('may be damaged without harm to the audio', async () => {
    expect(
      await textOf(
        ['cue ', (out) => out.u32(9)],
        ['LIST', (out) => out.latin1('IN')],
        ['bext', (out) => out.u32(1)],
      ),
    ).toEqual({ fields: {}, cues: [] });
  });
});
