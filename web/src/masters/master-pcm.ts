import { pcmFileBytes, PcmFileSource } from '@oiseau/audio/pcm';
import { useQuery } from '@tanstack/react-query';
import { addressOf, CONTRACT, type MasterRecord } from '@oiseau/api';
import { HttpByteSource } from '../player/http-byte-source.js';

/** Masters that were looked into lately, kept open so that their bytes need not come twice. */
const open = new Map<string, PcmFileSource>();
const MOST_OPEN = 4;

/** A master's words, read from the server by ranges as they are needed. */
export function masterPcm({ sha256, info }: Pick<MasterRecord, 'sha256' | 'info'>): PcmFileSource {
  const known = open.get(sha256);
  if (known) return known;
  const source = new PcmFileSource(
    info,
    new HttpByteSource(addressOf(CONTRACT.masterAudio, { params: { sha256 } }), pcmFileBytes(info)),
  );
  open.set(sha256, source);
  const [oldest] = open.keys();
  if (open.size > MOST_OPEN && oldest) open.delete(oldest);
  return source;
}

/** Samples `[from, from + count)` of a master, as soon as they are there; the last ones meanwhile. */
export function useMasterStretch(
  master: MasterRecord,
  from: number,
  count: number,
): { readonly left: Float64Array; readonly right: Float64Array; readonly from: number } | undefined {
  return useQuery({
    queryKey: ['pcm', master.sha256, from, count],
    queryFn: async () => ({ ...(await masterPcm(master).read(from, count)), from }),
    placeholderData: (before) => before,
    staleTime: Infinity,
    gcTime: 10_000,
  }).data;
}
