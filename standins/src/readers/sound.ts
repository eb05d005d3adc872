import { bytesOf } from './bytes.js';

/** What the head of an audio file says. */
export interface Sound {
  readonly form: 'flac' | 'wav';
  readonly rate: number;
  readonly bits: number;
  readonly channels: number;
  /** Of one channel. */
  readonly samples: number;
  /** Where the words of a WAV file begin, and how many bytes they have. */
  readonly offset: number;
  readonly bytes: number;
}

/** Reads the head of a FLAC [RFC 9639 8.2] or WAV file; null where it is neither. */
export async function soundOf(path: string): Promise<Sound | null> {
  const head = await bytesOf(path, 0, 64);
  if (head.toString('latin1', 0, 4) === 'fLaC' && head.length >= 42 && ((head[4] ?? 0) & 0x7f) === 0) {
    const packed = head.readBigUInt64BE(18);
    return {
      form: 'flac',
      rate: Number(packed >> 44n),
      channels: Number((packed >> 41n) & 7n) + 1,
      bits: Number((packed >> 36n) & 31n) + 1,
      samples: Number(packed & 0xfffffffffn),
      ...{ offset: 0, bytes: 0 },
    };
  }
  const riff = head.toString('latin1', 0, 4);
  if (!['RIFF', 'RF64', 'BW64'].includes(riff) || head.toString('latin1', 8, 12) !== 'WAVE') return null;
  let form: { channels: number; rate: number; bits: number } | null = null;
  let large: number | null = null;
  for (let at = 12; ;) {
    const chunk = await bytesOf(path, at, 48);
    if (chunk.length < 8) return null;
    const id = chunk.toString('latin1', 0, 4);
    const size = chunk.readUInt32LE(4);
    if (id === 'ds64') large = Number(chunk.readBigUInt64LE(16));
    if (id === 'fmt ')
      form = { channels: chunk.readUInt16LE(10), rate: chunk.readUInt32LE(12), bits: chunk.readUInt16LE(22) };
    if (id === 'data') {
      if (!form) return null;
      const bytes = size === 0xffffffff && large !== null ? large : size;
      const samples = bytes / (form.channels * (form.bits / 8));
      return { form: 'wav', ...form, samples, offset: at + 8, bytes };
    }
    at += 8 + size + (size % 2);
  }
}
