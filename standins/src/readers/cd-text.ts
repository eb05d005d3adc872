/** The titles of the first block, the album's first; empty where there are none [IEC 61866]. */
export function titlesOf(packs: Uint8Array): string[] {
  const bytes: number[] = [];
  let charset = 0;
  for (let at = 0; at + 18 <= packs.length; at += 18) {
    const [type = 0, track = 0, , position = 0] = packs.subarray(at, at + 4);
    if (((position >> 4) & 7) !== 0) continue;
    if (type === 0x8f && track === 0) charset = packs[at + 4] ?? 0;
    if (type === 0x80) bytes.push(...packs.subarray(at + 4, at + 16));
  }
  if (bytes.length === 0) return [];
  const decoder = new TextDecoder(charset === 0x80 ? 'shift_jis' : 'latin1');
  const wide = charset === 0x80;
  const ends: number[] = [];
  // A string of double bytes ends with two zeros.
  for (let i = 0; i < bytes.length; i += wide ? 2 : 1)
    if (bytes[i] === 0 && (!wide || bytes[i + 1] === 0)) ends.push(i);
  let start = 0;
  return ends
    .map((end) => {
      const text = decoder.decode(Uint8Array.from(bytes.slice(start, end)));
      start = end + (wide ? 2 : 1);
      return text;
    })
    .filter((text, i) => text !== '' || i === 0);
}
