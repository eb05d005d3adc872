import { msg, type Message } from '@oiseau/messages';
import { acceptedReason, placeWords, wordFinding } from '@oiseau/checks';
import { isDisc, layOutAlbum, layOutDeliverable, type DiscPart } from '@oiseau/album/layout';
import { mastersPlayed, type Album, type Deliverable } from '@oiseau/album/model';
import { pqPaper, pqSheet, pqText } from '@oiseau/formats/disc';
import { paperPdf } from '@oiseau/host';
import { uncheckedOf } from '../albums/check-subject.js';
import { factsOf } from '../albums/shelf.js';
import type { Db } from '../db/database.js';
import type { ComputePool } from '../http/compute-pool.js';
import { mastersByKey } from '../masters/master-repository.js';

/** Accepted findings of an album, a sentence each. */
export async function acceptedOf(
  db: Db,
  pool: ComputePool,
  albumId: string,
  album: Album,
): Promise<Message[]> {
  const unchecked = await uncheckedOf(db, albumId, album);
  const subject = { ...unchecked, parts: layOutAlbum(album, unchecked.masters) };
  return (await pool.check(unchecked)).flatMap((finding) => {
    const reason = acceptedReason(subject, finding);
    return reason === null
      ? []
      : [
          msg('{place}: {finding} “{reason}”', {
            ...{ place: placeWords(subject, finding), finding: wordFinding(finding), reason },
          }),
        ];
  });
}

/** A sheet for people that goes with an image. */
interface Sheet {
  /** Beside the image's files. */
  readonly path: string;
  readonly bytes: Buffer;
}

const sheetOf = async (album: Album, disc: DiscPart, folder: string): Promise<Sheet[]> => {
  const sheet = pqSheet(album, disc);
  return [
    { path: `${folder}pq-sheet.pdf`, bytes: await paperPdf(pqPaper(sheet, [], '')) },
    { path: `${folder}pq-sheet.txt`, bytes: Buffer.from(pqText(sheet)) },
  ];
};

/**
 * The PQ sheet of each disc of a deliverable, for print and as text, as they lie beside its image: the same bytes each time.
 * @param revision the album with all its editions
 */
export async function sheetsOfDiscs(
  db: Db,
  albumId: string,
  revision: Album,
  deliverable: Deliverable,
): Promise<Sheet[]> {
  const masters = factsOf(await mastersByKey(db, albumId, mastersPlayed(revision)));
  const { album, parts } = layOutDeliverable(revision, deliverable, masters);
  const discs = parts.filter(isDisc);
  return (
    await Promise.all(discs.map((disc) => sheetOf(album, disc, disc.of > 1 ? `${disc.name}/` : '')))
  ).flat();
}
