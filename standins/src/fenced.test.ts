import { describe, expect, it } from 'vitest';
import { fencedFfmpeg, formOf } from './fenced.js';

describe('FFmpeg of the simulated service', () => {
  it('reads a file as the form of its first bytes, and as nothing else', () => {
    for (const [head, form] of [
      ['fLaC....', 'flac'],
      ['RIFF....WAVE', 'wav'],
      ['OggS....', 'ogg'],
      ['....ftypM4A ', 'mov'],
      // A playlist that names other files or addresses is read as MP3, and is none.
      ['#EXTM3U\nhttp://', 'mp3'],
      ['ffconcat version', 'mp3'],
    ] as const)
      expect(formOf(Buffer.from(head, 'latin1'))).toBe(form);
    const { args } = fencedFfmpeg('/data/x', Buffer.from('#EXTM3U'), ['-f', 'null', '-']);
    const text = args.join(' ');
    expect(text).toContain('-f mp3 -format_whitelist mp3 -protocol_whitelist file');
    expect(text).toContain('-i file:/data/x');
  });

  it('gets nothing of the environment but where programs lie', () => {
    process.env.OISEAU_SECRET_OF_TEST = 'secret';
    try {
      const { env } = fencedFfmpeg('/data/x', Buffer.alloc(12), []);
      expect(Object.keys(env).sort()).toEqual(['LC_ALL', 'PATH']);
    } finally {
      delete process.env.OISEAU_SECRET_OF_TEST;
    }
  });
});
