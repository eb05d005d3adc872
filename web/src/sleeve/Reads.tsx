import { LANGUAGES, misfits, plainText } from '@oiseau/codings';
import { cdTextBlocks, cdTextWords, MOST_PACKS, packCount } from '@oiseau/formats/disc';
import { trackNumber, type CdTextField } from '@oiseau/album/model';
import type { Part } from '@oiseau/album/layout';
import type { TableRow } from '@oiseau/formats/tags';
import { useMemo } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { languageName } from '../ui/format.js';
import { t } from '../ui/messages.js';

const CHARSETS = {
  'iso-8859-1': t('Latin (ISO 8859-1)'),
  ascii: t('plain ASCII'),
  'ms-jis': t('Japanese (MS-JIS)'),
} as const;

/** How the words of a song will read: on the two lines of a disc player, and in a phone’s list. */
export function Reads({ row, second }: { row: TableRow; second: boolean }) {
  const { album, parts, edit } = useAlbum('album', 'parts', 'edit');
  // The disc that the song is on; the album’s words are those of the first.
  const part = parts.find(({ songs }) => songs.some(({ id }) => id === row)) ?? parts[0];
  const words = useMemo(() => (part ? cdTextWords(album, part) : []), [album, part]);
  const packs = useMemo(() => (part ? cdTextBlocks(album, part).map(packCount) : []), [album, part]);
  const shown = words[second ? 1 : 0] ?? words[0];
  if (!shown || !part) return null;
  const number = row === null ? null : trackNumber(part, row);
  // A hidden song has no place in CD-Text: what a player shows meanwhile is the album’s.
  const text = (field: CdTextField): string => shown.texts[field][number ?? 0] ?? '';
  const unfit = (['title', 'performer'] as const).flatMap((field) => misfits(text(field), shown.charset));
  return (
    <div className="reads">
      <figure className="player-lines" aria-label={t('On a disc player')}>
        <PlayerLine text={plainText(text('performer'), shown.charset)} />
        <PlayerLine text={plainText(text('title'), shown.charset)} />
        <figcaption>{t('Disc player')}</figcaption>
      </figure>
      <PhoneList part={part} row={row} />
      <div className="cd-text">
        <Form.Select
          size="sm"
          aria-label={t('Characters of CD-Text')}
          value={album.cdTextCharset}
          onChange={({ target }) => {
            const charset = (Object.keys(CHARSETS) as (keyof typeof CHARSETS)[]).find(
              (each) => each === target.value,
            );
            if (charset)
              edit(t('CD-Text in {charset}', { charset: CHARSETS[charset] }), (before) => ({
                ...before,
                cdTextCharset: charset,
              }));
          }}
        >
          {Object.entries(CHARSETS).map(([charset, name]) => (
            <option key={charset} value={charset}>
              {t('CD-Text in {name}', { name })}
            </option>
          ))}
        </Form.Select>
        <span className={(packs[0] ?? 0) > MOST_PACKS ? 'text-danger' : 'text-secondary'}>
          {packs
            .map((count) => t('{count} of {most} packs', { count, most: MOST_PACKS }))

            .join(`, ${t('second language')} `)}
        </span>
        {unfit.length > 0 && (
          <span className="text-secondary">
            {t('CD-Text can’t show')}{' '}
            {unfit.map(({ char, plain }, i) => (
              <span key={i}>
                <mark>{char}</mark>
                {plain === null ? ` ${t('(no substitute)')}` : plain === '' ? '' : ` → ${plain}`}{' '}
              </span>
            ))}
            {album.cdTextPlain ? (
              t('The disc shows the substitutes.')
            ) : (
              <Button
                size="sm"
                variant="link"
                onClick={() =>
                  edit(t('CD-Text substitutes accepted'), (before) => ({ ...before, cdTextPlain: true }))
                }
              >
                {' '}
                {t('Accept substitutes')}{' '}
              </Button>
            )}
          </span>
        )}
        <SecondLanguage />
      </div>
    </div>
  );
}

/** Twenty characters at a time, scrolling where there are more. */
function PlayerLine({ text }: { text: string }) {
  const long = text.length > 20;
  return (
    <span className="player-line">
      <span
        className={long ? 'scrolling' : undefined}
        style={long ? { animationDuration: `${text.length * 0.25}s` } : undefined}
      >
        {text || '\u00a0'}
      </span>
    </span>
  );
}

/** The tags as a phone lists them: a few tracks around the one in hand. */
function PhoneList({ part: { tracks }, row }: { part: Part; row: TableRow }) {
  const { album } = useAlbum('album');
  const place = tracks.findIndex(({ id }) => id === row);
  const first = Math.max(0, Math.min(Math.max(0, place) - 1, tracks.length - 3));
  return (
    <figure className="phone-list" aria-label={t('On a phone')}>
      {tracks.slice(first, first + 3).map(({ id, title, performer, advisory }, i) => (
        <span key={id} className={id === row ? 'in-hand' : undefined}>
          <b>{first + i + 1}</b> {title || t('Untitled')}
          {advisory === 'explicit' && <em title={t('Explicit')}>{t('E')}</em>}
          <small>{performer || album.performer}</small>
        </span>
      ))}
      <figcaption>{t('Phone')}</figcaption>
    </figure>
  );
}

/** The language of the second block: its words have columns of their own in the grid. */
function SecondLanguage() {
  const { album, edit } = useAlbum('album', 'edit');
  const { secondLanguage } = album;
  const choose = (language: string): void => {
    const name = language in LANGUAGES ? languageName(language) : undefined;
    edit(t('second language: {name}', { name: name ?? t('none') }), (before) => ({
      ...before,
      secondLanguage: name
        ? {
            words: before.secondLanguage?.words ?? {},
            language,
            charset: language === 'ja' ? 'ms-jis' : 'iso-8859-1',
          }
        : null,
    }));
  };
  return (
    <Form.Select
      size="sm"
      data-languages
      aria-label={t('Second language')}
      value={secondLanguage?.language ?? ''}
      onChange={({ target }) => choose(target.value)}
    >
      <option value="">{t('no second language')}</option>
      {Object.keys(LANGUAGES).map((language) => (
        <option key={language} value={language}>
          {t('{name} as a second language', { name: languageName(language) })}
        </option>
      ))}
    </Form.Select>
  );
}
