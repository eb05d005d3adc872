import { msg } from '@oiseau/messages';
import { Failure } from '@oiseau/audio/errors';
import { newAlbum, type Album, keptText, newSong, type Song } from '@oiseau/album/model';
import { frames, framesToTicks, ticks, type Frames, type Ticks } from '@oiseau/audio/time';
import type { DiscImage, ImageText } from '../disc/disc-image.js';

/** An image without what an album needs, in one sentence. */
export class ImageUnusable extends Failure {
  override readonly name = 'ImageUnusable';
  readonly code = 'image-unusable';
  readonly status = 422;
}

/** Tracks of a disc [IEC 60908]. */
const MOST_TRACKS = 99;

/**
 * An album whose tracks are the image, sample for sample and mark for mark, with its words and codes. Each track plays from its pause to
 * the next one’s, so that nothing is lost between them; its start mark stands inside its audio, as far behind the pause as it did.
 *
 *     image:  |pause 1|song 1 ~~~|pause 2 |song 2 ~~~
 *     tracks:         [1         )[2                )
 *     marks:          ^1.1        ^2.0    ^2.1
 *
 * @param master SHA-256 of the image’s audio, whose first sample is the disc’s frame `image.audio.from`
 * @throws ImageUnusable when it names no audio, no end or no track
 */
export function albumFromImage(image: DiscImage, master: string, idOf: (index: number) => string): Album {
  const { leadOut, audio } = image;
  if (!audio) throw new ImageUnusable(msg('The disc image names no audio file.'));
  if (image.tracks.length > MOST_TRACKS)
    throw new ImageUnusable(
      msg('The disc image has {count} tracks; a disc has at most {most}.', {
        count: image.tracks.length,
        most: MOST_TRACKS,
      }),
    );
  if (leadOut === null) throw new ImageUnusable(msg('The disc image has no lead-out.'));
  const album: Album = {
    ...newAlbum(''),
    ...kept(image.text),
    upc: image.upc,
    catalogNumber: image.masterId === image.text.title ? '' : image.masterId,
  };
  const inMaster = (at: number): Ticks => framesToTicks(frames(at - audio.from));
  const opensAt = (track: number): Frames | undefined =>
    image.marks.find((mark) => mark.track === track && (mark.index === 1 || (mark.index === 0 && track > 1)))
      ?.frames;
  const songs = image.tracks.map((of, i): Song => {
    const number = i + 1;
    const opens = opensAt(number);
    const starts = image.marks.find((mark) => mark.track === number && mark.index === 1)?.frames;
    const ends = i + 1 < image.tracks.length ? opensAt(number + 1) : leadOut;
    if (opens === undefined || starts === undefined || ends === undefined)
      throw new ImageUnusable(msg('Track {number} has no start mark.', { number }));
    const made = newSong(idOf(i), master, '', i === 0 ? framesToTicks(starts) : ticks(0));
    return {
      ...made,
      ...ownWords(of.text, image.text),
      isrc: of.isrc,
      copyPermitted: of.copyPermitted,
      preEmphasis: of.preEmphasis,
      region: { ...made.region, in: inMaster(opens), out: inMaster(ends) },
      marks: {
        ...made.marks,
        markLead: ticks(framesToTicks(opens) - framesToTicks(starts)),
        indexes: image.marks
          .filter((mark) => mark.track === number && mark.index > 1)
          .map(({ frames: at }) => ticks(framesToTicks(at) - framesToTicks(starts))),
      },
    };
  });
  if (songs.length === 0) throw new ImageUnusable(msg('The disc image has no tracks.'));
  return { ...album, songs };
}

/** Text from any source, made valid for an album. */
const kept = (text: ImageText): ImageText =>
  Object.fromEntries(Object.entries(text).map(([field, value]) => [field, keptText(value)]));

/** What a track says that the album does not say for it anyway. */
function ownWords(text: ImageText, album: ImageText): ImageText {
  return Object.fromEntries(
    Object.entries(kept(text)).filter(
      ([field, value]) =>
        field === 'title' || field === 'message' || value !== album[field as keyof ImageText],
    ),
  );
}
