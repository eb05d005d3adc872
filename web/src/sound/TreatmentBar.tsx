import { editSound } from '@oiseau/album/edits';
import { isUntreated, NO_TREATMENT, treatmentWords, type Treatment } from '@oiseau/audio/stages';
import { songOf } from '@oiseau/album/model';
import { CONTRACT, type TreatmentPreset } from '@oiseau/api';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Dropdown, Form, Modal } from 'react-bootstrap';
import { useMay } from '../access/VisitorContext.js';
import { useAlbum } from '../album/AlbumContext.js';
import { call } from '../api/client.js';
import { useForget } from '../api/useForget.js';
import { keptTreatment, treatmentsKey, useTreatments } from '../api/queries.js';
import { useNotices } from '../ui/Notices.js';
import { soundWords, type SoundDesk } from './useSoundDesk.js';
import { say, t } from '../ui/messages.js';

/** Whose sound it is, what is done to it in words, and what can be done with all of it. */
export function TreatmentBar({ desk }: { desk: SoundDesk }) {
  const { target, treatment, album } = desk;
  const [copying, setCopying] = useState(false);
  const [keeping, setKeeping] = useState(false);
  const presets = useTreatments().data ?? [];
  const forgets = useMay('delete');
  const forget = useForget<TreatmentPreset>({
    queryKey: treatmentsKey,
    find: keptTreatment,
    forget: (name) => call(CONTRACT.forgetTreatment, { params: { name } }),
    save: ({ name, treatment: body }) => call(CONTRACT.saveTreatment, { params: { name }, body }),
    words: (name) => t('Preset “{name}” deleted.', { name }),
  });
  const song = target === null ? undefined : songOf(album, target);
  const words = treatmentWords(treatment).map(say).join(', ');
  const untreated = isUntreated(treatment);
  return (
    <header className="sound-head">
      <h2 title={song?.title}>{target === null ? t('The album') : song?.title || t('Untitled')}</h2>
      <p className="text-secondary" title={words}>
        {words || (target === null ? t('no album treatment') : t('original'))}
      </p>
      <Dropdown align="end">
        <Dropdown.Toggle size="sm" variant="outline-primary">
          {t('Treatment')}
        </Dropdown.Toggle>
        <Dropdown.Menu>
          <Dropdown.Item disabled={untreated} onClick={() => setCopying(true)}>
            {t('Copy to other tracks …')}
          </Dropdown.Item>
          <Dropdown.Item disabled={untreated} onClick={() => setKeeping(true)}>
            {t('Save as preset …')}
          </Dropdown.Item>
          <Dropdown.Item disabled={untreated} onClick={() => desk.change(() => NO_TREATMENT)}>
            {t('Remove all stages')}
          </Dropdown.Item>
          {presets.length > 0 && <Dropdown.Divider />}
          {presets.map(({ name, treatment: kept }) => (
            <Dropdown.Item
              key={name}
              title={treatmentWords(kept).map(say).join(', ')}
              onClick={() => desk.change(() => kept)}
            >
              {name}
            </Dropdown.Item>
          ))}
          {forgets && presets.length > 0 && <Dropdown.Divider />}
          {(forgets ? presets : []).map((preset) => (
            <Dropdown.Item key={preset.name} className="text-secondary" onClick={() => forget(preset.name)}>
              {t('Delete the preset “{name}”', { name: preset.name })}
            </Dropdown.Item>
          ))}
        </Dropdown.Menu>
      </Dropdown>
      {copying && <CopyDialog desk={desk} onHide={() => setCopying(false)} />}
      {keeping && <KeepDialog treatment={treatment} onHide={() => setKeeping(false)} />}
    </header>
  );
}

function CopyDialog({ desk, onHide }: { desk: SoundDesk; onHide: () => void }) {
  const { part, edit } = useAlbum('part', 'edit');
  const { target, treatment } = desk;
  const others = part.songs.filter(({ id }) => id !== target);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const copy = (): void => {
    edit(
      (_before, after) =>
        t('{soundWords} copied to {count, plural, one {# track} other {# tracks}}', {
          soundWords: soundWords(after, target),
          count: chosen.size,
        }),
      (before) => [...chosen].reduce((album, id) => editSound(album, id, () => treatment), before),
    );
    onHide();
  };
  return (
    <Modal show onHide={onHide} scrollable aria-labelledby="copy-title">
      <Modal.Header closeButton>
        <Modal.Title id="copy-title">{t('Copy this treatment to')}</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <p className="text-secondary">{treatmentWords(treatment).map(say).join(', ')}</p>
        {others.map(({ id, title, region }) => (
          <Form.Check
            key={id}
            id={`copy-${id}`}
            label={
              isUntreated(region.sound)
                ? title || t('Untitled')
                : t('{title} (instead of {words})', {
                    title: title || t('Untitled'),
                    words: treatmentWords(region.sound).map(say).join(', '),
                  })
            }
            checked={chosen.has(id)}
            onChange={({ target: { checked } }) =>
              setChosen(new Set(checked ? [...chosen, id] : [...chosen].filter((each) => each !== id)))
            }
          />
        ))}
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-primary" onClick={() => setChosen(new Set(others.map(({ id }) => id)))}>
          {t('All tracks')}
        </Button>
        <Button disabled={chosen.size === 0} onClick={copy}>
          {t('Copy to {count, plural, one {# track} other {# tracks}}', { count: chosen.size })}
        </Button>
      </Modal.Footer>
    </Modal>
  );
}

function KeepDialog({ treatment, onHide }: { treatment: Treatment; onHide: () => void }) {
  const [name, setName] = useState('');
  const queries = useQueryClient();
  const { tell, complain } = useNotices();
  const presets = useTreatments().data ?? [];
  const isThere = presets.some((each) => each.name === name.trim());
  const keep = async (): Promise<void> => {
    const replaced = (await keptTreatment(name.trim()))?.treatment;
    const save = async (kept: Treatment): Promise<void> => {
      await call(CONTRACT.saveTreatment, { params: { name: name.trim() }, body: kept });
      await queries.invalidateQueries({ queryKey: treatmentsKey });
    };
    await save(treatment);
    tell(
      t('Saved as “{trim}”.', { trim: name.trim() }),
      replaced && { label: t('Undo'), run: () => void save(replaced).catch(complain) },
    );
    onHide();
  };
  return (
    <Modal show onHide={onHide} aria-labelledby="keep-title">
      <Form
        onSubmit={(event) => {
          event.preventDefault();
          keep().catch(complain);
        }}
      >
        <Modal.Header closeButton>
          <Modal.Title id="keep-title">{t('Save treatment as preset')}</Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <Form.Control
            autoFocus
            aria-label={t('Preset name')}
            placeholder={t('Name')}
            maxLength={100}
            value={name}
            onChange={({ target }) => setName(target.value)}
          />
          {isThere && (
            <p className="mt-2 mb-0">{t('A preset with this name exists and will be replaced.')}</p>
          )}
        </Modal.Body>
        <Modal.Footer>
          <Button type="submit" disabled={name.trim() === ''}>
            {isThere ? t('Replace') : t('Save')}
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  );
}
