import { CONTRACT, type MasterRecord } from '@oiseau/api';
import { appendSongs, replaceMaster, titleFromFileName } from '@oiseau/album/edits';
import { newSong } from '@oiseau/album/model';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo, useRef, useState } from 'react';
import { useMay } from '../access/VisitorContext.js';
import { useAlbum } from '../album/AlbumContext.js';
import { call } from '../api/client.js';
import { mastersKey, useSilhouettes } from '../api/queries.js';
import { useNotices } from '../ui/Notices.js';
import { NONE, sortArrivals, type SoundedOffer } from './arrivals.js';
import { useUploads } from './UploadContext.js';
import { t } from '../ui/messages.js';

/** Another window that brings files in has so long to make tracks of them before this one does. */
const OTHERS_MS = 20_000;

/** Imported masters become tracks, in the order of the names, in whichever window is open; what looks like a newer version is offered. */
export function useArrivals(): {
  readonly offers: readonly SoundedOffer[];
  /** Replaces masters by the newer versions that were chosen; the others become tracks. */
  readonly settle: (chosen: readonly SoundedOffer[]) => void;
} {
  const { id, album, masters, edit } = useAlbum('id', 'album', 'masters', 'edit');
  const { queue, uploads } = useUploads();
  const queries = useQueryClient();
  const { complain } = useNotices();
  // Guests settle nothing.
  const works = useMay('work');
  const waiting = useMemo(() => (works ? masters.filter(({ awaits }) => awaits) : []), [works, masters]);
  const outlines = useSilhouettes(waiting.length > 0 ? masters : waiting);
  const { offers, tracks } = useMemo(
    () => (waiting.length > 0 ? sortArrivals(album, masters, outlines) : NONE),
    [waiting, album, masters, outlines],
  );
  // What this window has settled, until the server says so too.
  const settled = useRef(new Set<string>());
  const tell = (list: readonly { sha256: string; replaces: string | null }[]): void => {
    for (const { sha256 } of list) settled.current.add(sha256);
    call(CONTRACT.settleMasters, { params: { id }, body: { masters: [...list] } })
      .then(() => queries.invalidateQueries({ queryKey: mastersKey(id) }))
      .catch(complain);
  };
  const take = (list: readonly MasterRecord[]): void => {
    const songs = list.map(({ name, sha256 }) =>
      newSong(crypto.randomUUID(), sha256, titleFromFileName(name)),
    );
    edit(
      t('{count, plural, one {# track} other {# tracks}} from new masters', { count: songs.length }),
      (before) => appendSongs(before, songs),
    );
    tell(list.map(({ sha256 }) => ({ sha256, replaces: null })));
  };
  const busy = uploads.length > 0 && queue.isBusy;
  const mine = useRef(false);
  useEffect(() => {
    if (busy) mine.current = true;
  }, [busy]);
  const [, look] = useState(0);
  useEffect(() => {
    const now = tracks.filter(({ sha256 }) => !settled.current.has(sha256));
    // One that has come in may stand before those that the list tells of: their names say in what order they are tracks.
    queue.landed(masters.map(({ sha256 }) => sha256));
    if (busy || queue.isLanding || now.length === 0) return undefined;
    const newest = Math.max(...now.map(({ addedAt }) => Date.parse(addedAt)));
    const wait = mine.current ? 0 : newest + OTHERS_MS - Date.now();
    if (wait > 0) {
      const timer = setTimeout(() => look((n) => n + 1), wait);
      return () => clearTimeout(timer);
    }
    take(now);
    return undefined;
  });
  return {
    offers: offers.filter(({ newer }) => !settled.current.has(newer)),
    settle: (chosen) => {
      const names = new Map(masters.map((master) => [master.sha256, master]));
      const replaced = new Set(chosen.map(({ newer }) => newer));
      if (chosen.length > 0) {
        edit(
          t('{count, plural, one {# master} other {# masters}} replaced by newer versions', {
            count: chosen.length,
          }),
          (before) => chosen.reduce((all, { older, newer }) => replaceMaster(all, older, newer), before),
        );
        tell(chosen.map(({ newer, older }) => ({ sha256: newer, replaces: older })));
      }
      const others = offers.flatMap(({ newer }) => (replaced.has(newer) ? [] : (names.get(newer) ?? [])));
      if (others.length > 0) take(others);
    },
  };
}
