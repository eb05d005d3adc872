import { containerTags, type ContainerTag, type TagContainer } from '@oiseau/codings';
import { editWords } from '@oiseau/album/edits';
import { parseEan, parseIsrc } from '@oiseau/formats/disc';
import type { Part } from '@oiseau/album/layout';
import { songOf, TAG_NAME, type Album, type Song } from '@oiseau/album/model';
import { trackTags } from '@oiseau/formats/tags';
import { X } from 'lucide-react';
import { useState } from 'react';
import { Button, Form, Modal } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { songName } from '../album/song-name.js';
import { DraftField } from '../ui/DraftField.js';
import { TabPanel, TabPlace, Tabs } from '../ui/Tabs.js';
import { t } from '../ui/messages.js';

/** Whose own tag it is. */
type Owner = 'track' | 'album';

function withTag(
  album: Album,
  owner: Owner,
  id: string,
  change: (tags: Album['tags']) => Album['tags'],
): Album {
  if (owner === 'album') return { ...album, tags: change(album.tags) };
  const track = songOf(album, id);
  return track ? editWords(album, id, { tags: change(track.tags) }) : album;
}

/** The tags by their meaning, or as one kind of file carries them. */
const SHOWN = {
  all: t('By field'),
  vorbis: t('FLAC, Opus, Ogg'),
  id3: t('MP3, AIFF, WAV'),
  id3v4: t('… by ID3v2.4'),
  mp4: 'M4A',
  riff: t('WAV without ID3'),
} as const satisfies Record<TagContainer | 'all', string>;

const ABOUT: Readonly<Record<TagContainer, string>> = {
  vorbis: t('Vorbis comments, and the cover as a picture.'),
  id3: t('ID3v2.3 frames and the cover as a picture; in WAV in an “id3 ” chunk.'),
  id3v4: t('ID3v2.4 frames, where a deliverable uses that version.'),
  mp4: t('MP4 items; fields without a standard item in freeform (----); and the cover.'),
  riff: t('For software without ID3: LIST INFO, the ISRC in axml, and bext with the loudness.'),
};

function CarriedTags({ tags, container }: { tags: readonly ContainerTag[]; container: TagContainer }) {
  return (
    <>
      <p className="text-secondary mt-2">{ABOUT[container]}</p>
      <table className="table tags-table">
        <tbody>
          {tags.map(({ key, value }) => (
            <tr key={key}>
              <th scope="row">{key}</th>
              <td>{value}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

/** A track's own tags and those of the album, to add to and to remove. */
function useOwnTags(track: Song) {
  const { album, parts, edit } = useAlbum('album', 'parts', 'edit');
  return {
    ownerOf: (tag: string): Owner | null =>
      tag in track.tags ? 'track' : tag in album.tags ? 'album' : null,
    add: (owner: Owner, name: string, value: string): void => {
      const where = owner === 'album' ? t('all tracks') : songName(parts, track.id);
      edit(t('tag {name} “{value}” for {where}', { name, value, where }), (before) =>
        withTag(before, owner, track.id, (own) => ({ ...own, [name]: value })),
      );
    },
    remove: (tag: string, of: Owner): void => {
      edit(t('tag {tag} removed', { tag }), (before) =>
        withTag(before, of, track.id, (own) =>
          Object.fromEntries(Object.entries(own).filter(([each]) => each !== tag)),
        ),
      );
    },
  };
}
type OwnTags = ReturnType<typeof useOwnTags>;

/** Exactly what a track's file will carry as tags, and tags of one's own to add. */
export function TagsDialog({ first, onHide }: { first: string; onHide: () => void }) {
  const { parts } = useAlbum('parts');
  const tracks = parts.flatMap((part) => part.tracks.map((track) => ({ track, part })));
  const [chosen, setChosen] = useState(first);
  const inHand = tracks.find(({ track }) => track.id === chosen) ?? tracks[0];
  if (!inHand) return null;
  return (
    <Modal show onHide={onHide} size="lg" scrollable aria-labelledby="tags-title">
      <Modal.Header closeButton>
        <Modal.Title id="tags-title">{t('Tags')}</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <Form.Select
          aria-label={t('Track')}
          className="mb-2"
          value={inHand.track.id}
          onChange={({ target }) => setChosen(target.value)}
        >
          {tracks.map(({ track: { id, title } }) => (
            <option key={id} value={id}>
              {songName(parts, id).replace(/^track /, '')} {title || t('Untitled')}
            </option>
          ))}
        </Form.Select>
        <TrackTags {...inHand} />
      </Modal.Body>
    </Modal>
  );
}

function TrackTags({ track, part }: { track: Song; part: Part }) {
  const { album } = useAlbum('album');
  const own = useOwnTags(track);
  const [shown, setShown] = useState<keyof typeof SHOWN>('all');
  const tags = trackTags(album, part, track, {
    isrc: parseIsrc(track.isrc) ?? '',
    upc: parseEan(part.upc) ?? '',
  });
  return (
    <>
      <TabPlace id="tags" chosen={shown} onChoose={setShown}>
        <Tabs label={t('Kind of file')} names={SHOWN} />
        <TabPanel chosen={shown}>
          {shown !== 'all' && <CarriedTags tags={containerTags(tags, shown)} container={shown} />}
          <table className="table tags-table" hidden={shown !== 'all'}>
            <tbody>
              {Object.entries(tags).map(([tag, text]) => (
                <tr key={tag}>
                  <th scope="row">{tag}</th>
                  <td>{text}</td>
                  <td className="text-secondary">
                    <OwnerCell tag={tag} own={own} />
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </TabPanel>
      </TabPlace>
      <OwnTagForm onAdd={own.add} />
    </>
  );
}

/** Whose own tag it is, and the way to be rid of it; nothing for a tag that follows from the words. */
function OwnerCell({ tag, own }: { tag: string; own: OwnTags }) {
  const of = own.ownerOf(tag);
  if (!of) return null;
  return (
    <>
      {of === 'album' ? t('custom, all tracks') : t('custom, this track')}
      <button
        type="button"
        className="row-button"
        aria-label={t('Remove {tag}', { tag })}
        onClick={() => own.remove(tag, of)}
      >
        <X size={14} aria-hidden />
      </button>
    </>
  );
}

function OwnTagForm({ onAdd }: { onAdd: OwnTags['add'] }) {
  const [name, setName] = useState('');
  const [value, setValue] = useState('');
  const [owner, setOwner] = useState<Owner>('track');
  const add = (): void => {
    onAdd(owner, name, value);
    setName('');
    setValue('');
  };
  return (
    <div className="own-tag">
      <DraftField
        label={t('Custom tag name')}
        placeholder={t('MOOD')}
        value={name}
        fault={(text) =>
          text === '' || TAG_NAME.test(text.toUpperCase())
            ? undefined
            : t('Use letters, digits, spaces, “_” and “-”.')
        }
        onCommit={(text) => setName(text.trim().toUpperCase())}
      />
      <DraftField label={t('Custom tag value')} placeholder={t('calm')} value={value} onCommit={setValue} />
      <Form.Select
        aria-label={t('Custom tag applies to')}
        value={owner}
        onChange={({ target }) => setOwner(target.value === 'album' ? 'album' : 'track')}
      >
        <option value="track">{t('this track')}</option>
        <option value="album">{t('all tracks')}</option>
      </Form.Select>
      <Button variant="outline-primary" disabled={!TAG_NAME.test(name) || value === ''} onClick={add}>
        {t('Add')}
      </Button>
    </div>
  );
}
