import { CONTRACT } from '@oiseau/api';
import { editWords } from '@oiseau/album/edits';
import { formatIsrc, isrcRun, nextIsrcNumber, parseIsrc, withoutFormula } from '@oiseau/formats/disc';
import { tracksOf } from '@oiseau/album/model';
import { FileDown } from 'lucide-react';
import Papa from 'papaparse';
import { useState } from 'react';
import { Button, Form, Modal } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { call } from '../api/client.js';
import { useIsrcsElsewhere } from '../api/queries.js';
import { useNotices } from '../ui/Notices.js';
import { saveText } from '../ui/save-text.js';
import { useStored } from '../ui/useStored.js';
import { CodeShape, ISRC_SHAPE } from './CodeShape.js';
import { t } from '../ui/messages.js';

const thisYear = (): string => String(new Date().getFullYear() % 100).padStart(2, '0');

/** Gives tracks ISRCs that follow each other, and shows the codes that stand elsewhere already. */
export function CodesDialog({ onHide }: { onHide: () => void }) {
  const { id, album, edit } = useAlbum('id', 'album', 'edit');
  const { complain } = useNotices();
  const [prefix, setPrefix] = useStored('oiseau-isrc-prefix', '');
  const [year, setYear] = useState(thisYear);
  const [typed, setFirst] = useState<string | null>(null);
  const [onlyMissing, setOnlyMissing] = useState(true);
  const elsewhere = useIsrcsElsewhere(id).data ?? [];
  const taken = new Map(elsewhere.map(({ isrc, album: title }) => [isrc, title]));
  const targets = tracksOf(album).filter(({ isrc }) => !onlyMissing || !parseIsrc(isrc));
  // The default: after the highest number assigned anywhere.
  const known = [...taken.keys(), ...album.songs.flatMap(({ isrc }) => parseIsrc(isrc) ?? [])];
  const first = typed ?? String(nextIsrcNumber(prefix, year, known));
  // An empty dialog has no error yet.
  const isTyped = prefix.trim() !== '';
  const { run, fault } = runOf(prefix, year, Number(first), targets.length);
  const doubles = run.filter((isrc) => taken.has(isrc));
  const own = new Set(album.songs.flatMap(({ isrc }) => parseIsrc(isrc) ?? []));
  const sharedNow = [...own].filter((isrc) => taken.has(isrc));
  const give = (): void => {
    edit(
      t('ISRCs of {count, plural, one {# track} other {# tracks}} from {first}', {
        count: targets.length,
        first: formatIsrc(run[0] ?? ''),
      }),
      (before) =>
        targets.reduce(
          (changed, track, i) => editWords(changed, track.id, { isrc: run[i] ?? track.isrc }),
          before,
        ),
    );
    onHide();
  };
  return (
    <Modal show onHide={onHide} aria-labelledby="codes-title">
      <Modal.Header closeButton>
        <Modal.Title id="codes-title">{t('Assign ISRCs')}</Modal.Title>
      </Modal.Header>
      <Modal.Body className="codes-dialog">
        <CodeShape parts={ISRC_SHAPE} />
        <div className="codes-fields">
          <label>
            {t('Prefix')}
            <CodeField value={prefix} placeholder={t('ZZ-OIS')} onChange={setPrefix} />
          </label>
          <label>
            {t('Year')}
            <CodeField value={year} onChange={setYear} />
          </label>
          <label>
            {t('First number')}
            <CodeField value={first} onChange={setFirst} />
          </label>
        </div>
        <Form.Check
          type="switch"
          id="codes-missing"
          label={t('Only tracks without a valid ISRC')}
          checked={onlyMissing}
          onChange={({ target }) => setOnlyMissing(target.checked)}
        />
        <p role="status" className={fault && isTyped ? 'text-danger' : undefined}>
          {(fault && (isTyped ? fault : t('Enter the prefix of your registrant, such as ZZ-OIS.'))) ??
            (targets.length === 0
              ? t('All tracks have a valid ISRC.')
              : t('{first} to {last}, for {count, plural, one {# track} other {# tracks}}.', {
                  first: formatIsrc(run[0] ?? ''),
                  last: formatIsrc(run.at(-1) ?? ''),
                  count: targets.length,
                }))}
        </p>
        {doubles.map((isrc) => (
          <p key={isrc} className="text-danger mb-0">
            {t('{isrc} is already used in “{album}”.', { isrc: formatIsrc(isrc), album: taken.get(isrc) })}
          </p>
        ))}
        {sharedNow.map((isrc) => (
          <p key={isrc} className="text-secondary mb-0">
            {t('{isrc} of this album is also used in “{album}”. That is correct for the same recording.', {
              isrc: formatIsrc(isrc),
              album: taken.get(isrc),
            })}
          </p>
        ))}
      </Modal.Body>
      <Modal.Footer>
        <Button variant="link" className="me-auto" onClick={() => saveRegister().catch(complain)}>
          <FileDown size={16} aria-hidden /> {t('Export ISRC register (CSV)')}
        </Button>
        <Button variant="outline-primary" onClick={onHide}>
          {t('Cancel')}
        </Button>
        <Button disabled={fault !== null || targets.length === 0} onClick={give}>
          {t('Assign {count, plural, one {# ISRC} other {# ISRCs}}', { count: targets.length })}
        </Button>
      </Modal.Footer>
    </Modal>
  );
}

/** A field whose every letter counts at once: the button beside it can be pressed right after. */
function CodeField({
  value,
  placeholder,
  onChange,
}: {
  readonly value: string;
  readonly placeholder?: string;
  readonly onChange: (text: string) => void;
}) {
  return (
    <Form.Control
      value={value}
      placeholder={placeholder}
      autoComplete="off"
      spellCheck={false}
      onChange={({ target }) => onChange(target.value)}
    />
  );
}

/** Every code that was given, in any album, for a spreadsheet. */
async function saveRegister(): Promise<void> {
  const all = await call(CONTRACT.isrcRegister, {});
  const rows = all.map(({ isrc, album, performer, upc, track, title }) => ({
    ISRC: formatIsrc(isrc),
    ...{ Album: withoutFormula(album), 'UPC/EAN': withoutFormula(upc), Track: track },
    ...{ Title: withoutFormula(title), Performer: withoutFormula(performer) },
  }));
  saveText(t('ISRC register.csv'), 'text/csv', Papa.unparse(rows));
}

/** The codes, or why there are none. */
function runOf(
  prefix: string,
  year: string,
  first: number,
  number: number,
): { readonly run: readonly string[]; readonly fault: string | null } {
  try {
    return { run: isrcRun(prefix, year, first, number), fault: null };
  } catch (error) {
    return { run: [], fault: error instanceof Error ? error.message : String(error) };
  }
}
