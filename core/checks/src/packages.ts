import type { PackageDeliverable } from '@oiseau/album/model';
import { parseEan, parseIsrc } from '@oiseau/formats/disc';
import { isReleaseDay, SHOP_COVER_PIXELS } from '@oiseau/formats/papers';
import type { CheckSubject, Finding, Rule, StoreRequirement } from './finding.js';

/** What a shop would refuse of a package is said before it is rendered: what `release.json` must have, and a cover that can be made of the picture. */
export const packages: Rule = (subject) =>
  subject.album.songs.length === 0
    ? []
    : subject.album.deliverables
        .filter((deliverable) => deliverable.kind === 'package')
        .flatMap((deliverable) => ofPackage(subject, deliverable));

function ofPackage({ album, parts, cover }: CheckSubject, { name }: PackageDeliverable): Finding[] {
  const refused = (lacks: StoreRequirement, song: string | null = null): Finding => ({
    ...{ code: 'shop-refuses', severity: 'error', deliverable: name, lacks, song },
  });
  const found: Finding[] = [];
  const demand = (holds: boolean, lacks: StoreRequirement): void =>
    void (holds || found.push(refused(lacks)));
  demand(album.title.trim() !== '', 'title');
  demand(album.performer.trim() !== '', 'performer');
  demand(album.label.trim() !== '', 'label');
  demand(parseEan(album.upc) !== undefined, 'upc');
  demand(isReleaseDay(album.releaseDate), 'release-date');
  demand(album.language.trim() !== '', 'language');
  demand(album.copyright.trim() !== '', 'copyright');
  demand(album.phonogram.trim() !== '', 'phonogram');
  demand(album.artwork !== null, 'cover');
  // The size of a picture that wasn't read is unknown; a larger one is made smaller, a smaller one never blown up.
  const fits = !cover || (cover.width === cover.height && cover.width >= SHOP_COVER_PIXELS);
  demand(fits, 'cover-size');
  for (const { id, title, isrc } of parts.flatMap(({ tracks }) => tracks)) {
    if (title.trim() === '') found.push(refused('title', id));
    if (parseIsrc(isrc) === undefined) found.push(refused('isrc', id));
  }
  return found;
}
