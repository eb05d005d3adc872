import { addressOf, CONTRACT } from '@oiseau/api';
import { masterTicks, NO_MARKS, wholeMaster, type Sequence } from '@oiseau/album/model';
import { NO_ALBUM_TREATMENT } from '@oiseau/audio/stages';
import { Silhouette } from '@oiseau/audio/measure';
import { ticks, ticksToSeconds } from '@oiseau/audio/time';
import type { PcmInfo } from '@oiseau/audio/pcm';
import { useQueries } from '@tanstack/react-query';
import { useMemo } from 'react';
import { call } from '../api/client.js';
import type { Guest } from '../player/guest.js';
import { PLAYER_RATE } from '../player/player.js';
import { t } from '../ui/messages.js';

interface RenderedFile {
  readonly path: string;
}

/** Where rendered files are heard: at a delivery for who has a key, at an invitation for who has none. */
export interface HeardAddresses {
  /** Tells what is kept of it apart. */
  readonly key: string;
  info(path: string): Promise<{ readonly info: PcmInfo }>;
  audio(path: string): string;
  outline(path: string, step: number): string;
}

export const deliveryAddresses = (id: string): HeardAddresses => ({
  key: id,
  info: (path) => call(CONTRACT.heard, { params: { id, path } }),
  audio: (path) => addressOf(CONTRACT.heardAudio, { params: { id, path } }),
  outline: (path, step) => addressOf(CONTRACT.heardOutline, { params: { id, path }, query: { step } }),
});

export const invitationAddresses = (id: string): HeardAddresses => ({
  key: id,
  info: (path) => call(CONTRACT.listeningHeard, { params: { id, path } }),
  audio: (path) => addressOf(CONTRACT.listeningAudio, { params: { id, path } }),
  outline: (path, step) => addressOf(CONTRACT.listeningOutline, { params: { id, path }, query: { step } }),
});

/** A rendered file in its row. */
export interface HeardFile<File extends RenderedFile = RenderedFile> {
  readonly file: File;
  readonly info: PcmInfo;
  /** Seconds from the start of the row. */
  readonly start: number;
  readonly seconds: number;
}

/** Length of a row of files. */
export const secondsOf = (heard: readonly HeardFile[]): number =>
  heard.reduce((sum, { seconds }) => sum + seconds, 0);

/** The files of a row with what their samples are; null while some of them are still opened or decoded. */
export function useHeardFiles<File extends RenderedFile>(
  where: HeardAddresses,
  files: readonly File[],
): { readonly heard: readonly HeardFile<File>[] | null; readonly failure: Error | null } {
  const { infos, failure } = useQueries({
    queries: files.map(({ path }) => ({
      queryKey: ['heard', where.key, path],
      staleTime: Infinity,
      queryFn: () => where.info(path),
    })),
    combine: (all) => ({
      infos: all.map(({ data }) => data?.info),
      failure: all.find(({ error }) => error)?.error ?? null,
    }),
  });
  const heard = useMemo(() => {
    let start = 0;
    const all: HeardFile<File>[] = [];
    for (const [i, file] of files.entries()) {
      const info = infos[i];
      if (!info) return null;
      const seconds = ticksToSeconds(masterTicks(info));
      all.push({ file, info, start, seconds });
      start += seconds;
    }
    return all;
  }, [files, infos]);
  return { heard, failure };
}

/**
 * Files as a guest on the player: one after the other, without a gap between them.
 * @param playFrom seconds at which it starts at once
 */
export function rowGuest(
  where: HeardAddresses,
  name: string,
  heard: readonly HeardFile[],
  playFrom?: number,
): Guest {
  const sequence: Sequence = {
    songs: heard.map(({ file: { path }, info }) => ({
      ...{ id: path, numbered: true, marks: NO_MARKS },
      region: { ...wholeMaster(path, ticks(0)), out: masterTicks(info) },
    })),
    ...{ markLead: ticks(0), endPause: ticks(0), sound: NO_ALBUM_TREATMENT },
  };
  const masters = new Map(
    heard.map(({ file: { path }, info }) => {
      return [path, { url: where.audio(path), info }] as const;
    }),
  );
  const length = ticks(heard.reduce((sum, { info }) => sum + masterTicks(info), 0));
  return {
    ...{ name, what: 'rendered', programme: { sequence, masters }, length },
    ...(playFrom === undefined ? {} : { playFrom: Math.round(playFrom * PLAYER_RATE) }),
  };
}

/** Points that an outline is asked for in, over a whole row. */
const MOST_POINTS = 3000;

/** The outlines of the files of a row, as they come. */
export function useOutlinesOfFiles(
  where: HeardAddresses,
  heard: readonly HeardFile[],
): readonly (Silhouette | undefined)[] {
  const seconds = heard.reduce((sum, file) => sum + file.seconds, 0);
  const step = Math.max(1, Math.floor((seconds * 75) / MOST_POINTS));
  return useQueries({
    queries: heard.map(({ file: { path } }) => ({
      queryKey: ['outline of rendered', where.key, path, step],
      staleTime: Infinity,
      queryFn: async () => {
        const response = await fetch(where.outline(path, step));
        if (!response.ok) throw new Error(t('The waveform couldn’t be loaded.'));
        return Silhouette.fromBytes(new Uint8Array(await response.arrayBuffer()));
      },
    })),
    combine: (all) => all.map(({ data }) => data),
  });
}
