import type * as Taglib from 'node-taglib-sharp';
import type { Mpeg4AppleTag } from 'node-taglib-sharp';
import type { ContainerTag, EmbeddedPicture } from '@oiseau/codings';

/** The mean of free-form items in the item list of MP4. */
const FREE_FORM = 'com.apple.iTunes';

/** Writes tags and a cover into a finished M4A or Ogg file, exactly as they are listed. */
export async function writeTags(
  path: string,
  container: 'mp4' | 'vorbis',
  tags: readonly ContainerTag[],
  picture: EmbeddedPicture | null,
): Promise<void> {
  // Loaded by the first file that needs it.
  const taglib = await import('node-taglib-sharp');
  const { ByteVector, File, Mpeg4AppleTag, Picture, PictureType, TagTypes, XiphComment } = taglib;
  const file = File.createFromPath(path);
  try {
    const tag = file.getTag(container === 'mp4' ? TagTypes.Apple : TagTypes.Xiph, true);
    for (const { key, value } of tags) {
      if (tag instanceof Mpeg4AppleTag) addItem(taglib, tag, { key, value });
      else if (tag instanceof XiphComment) tag.setFieldAsStrings(key, value);
      else throw new RangeError(`no ${container} tags in this file`);
    }
    if (picture) {
      const bytes = ByteVector.fromByteArray(picture.bytes);
      tag.pictures = [Picture.fromFullData(bytes, PictureType.FrontCover, picture.mediaType, '')];
    }
    file.save();
  } finally {
    file.dispose();
  }
}

function addItem({ ByteVector }: typeof Taglib, tag: Mpeg4AppleTag, { key, value }: ContainerTag): void {
  const [number = 0, total = 0] = value.split('/').map(Number);
  if (key === 'trkn') [tag.track, tag.trackCount] = [number, total];
  else if (key === 'disk') [tag.disc, tag.discCount] = [number, total];
  else if (key.startsWith('----:')) tag.setItunesStrings(FREE_FORM, key.slice(5), value);
  else {
    const type = ByteVector.fromByteArray(Buffer.from(key, 'latin1'));
    if (key === 'tmpo') tag.setQuickTimeData(type, [ByteVector.fromUshort(number)], 0x15);
    else if (key === 'rtng') tag.setQuickTimeData(type, [ByteVector.fromByte(number)], 0x15);
    else tag.setQuickTimeString(type, value);
  }
}
