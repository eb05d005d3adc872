import { editionNameOf, lostOverlaps, newNeighbours, songOf } from '@oiseau/album/model';
import type { Album, Edition, EditionTrack } from '@oiseau/album/model';
import { secondsToTicks, type Ticks } from '@oiseau/audio/time';
import type { Finding } from './finding.js';

/** Another in or out point by more than this makes another recording (docs/rules.md 15). */
const SAME_RECORDING = secondsToTicks(10);

/** What is wrong or doubtful in an edition only because it is an edition of this album. */
export function editionFindings(album: Album, edition: Edition): Finding[] {
  const lost = new Set(lostOverlaps(album, edition));
  return [
    ...[...lost].map((song): Finding => ({ severity: 'warning', code: 'edition-overlap-lost', song })),
    ...sameUpc(album, edition),
    ...newNeighbours(album, edition)
      .filter((song) => !lost.has(song))
      .map((song): Finding => ({ severity: 'hint', code: 'edition-not-heard', song })),
    ...ownRecordings(album, edition),
  ];
}

/** An edition that is released has a code that no other has. */
function sameUpc(album: Album, edition: Edition): Finding[] {
  const text = edition.upc || album.upc;
  if (text.trim() === '' || !isReleased(album, edition)) return [];
  const other = album.editions.find(
    (each) => each.name !== edition.name && (each.upc || album.upc) === text && isReleased(album, each),
  );
  return other ? [{ severity: 'warning', code: 'edition-upc-same', other: other.name, text }] : [];
}

/** Whether an edition goes out: it is no draft, and something is rendered of it or it has a code of its own. */
const isReleased = (album: Album, { name, draft, upc }: Edition): boolean =>
  !draft && (upc !== '' || album.deliverables.some((each) => editionNameOf(album, each) === name));

const ownRecordings = (album: Album, { tracks }: Edition): Finding[] =>
  Object.entries(tracks).flatMap(([song, own]): Finding[] => {
    const shared = songOf(album, song);
    if (!shared || shared.isrc.trim() === '' || own.isrc !== undefined) return [];
    const { region } = shared;
    const isMoved = differBy(own.in, region.in) || differBy(own.out, region.out);
    return isMoved || isTreated(own) ? [{ severity: 'hint', code: 'edition-own-isrc', song }] : [];
  });

/** An end that one of both doesn’t have is as far away as can be. */
function differBy(own: Ticks | null | undefined, shared: Ticks | null): boolean {
  if (own === undefined || own === shared) return false;
  return own === null || shared === null || Math.abs(own - shared) > SAME_RECORDING;
}

/** Whether it has a treatment of its own; a limiter alone leaves a track’s character. */
const isTreated = ({ sound = {} }: EditionTrack): boolean =>
  Object.keys(sound).some((stage) => stage !== 'limiter');
