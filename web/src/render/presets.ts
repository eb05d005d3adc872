import type { Deliverable } from '@oiseau/album/model';
import { useQuery, type UseQueryResult } from '@tanstack/react-query';
import { CONTRACT, type Preset } from '@oiseau/api';
import { call } from '../api/client.js';
import { t } from '../ui/messages.js';

export const presetsKey = ['presets'];

/** Saved presets, for all albums. */
export function usePresets(): UseQueryResult<Preset[]> {
  return useQuery({ queryKey: presetsKey, queryFn: listPresets });
}

const listPresets = (): Promise<Preset[]> => call(CONTRACT.presets, {});

/** What the server keeps under a name at this moment, for a way back: what was drawn may be older. */
export const keptPreset = (name: string): Promise<Preset | undefined> =>
  listPresets().then((all) => all.find((preset) => preset.name === name));

/** A name that none of an album's deliverables has yet, as near to the wanted one as can be. */
export function freeName(wanted: string, taken: readonly Deliverable[]): string {
  const names = new Set(taken.map(({ name }) => name.toLowerCase()));
  for (let n = 1; ; n++) {
    const name = n === 1 ? wanted : t('{wanted} {n}', { wanted, n });
    if (!names.has(name.toLowerCase())) return name;
  }
}
