import { addEdition, removeEdition, renameEdition } from '@oiseau/album/edits';
import { editionKey, type Album } from '@oiseau/album/model';
import { Layers } from 'lucide-react';
import { useId, useState, type ReactNode } from 'react';
import { Button, Dropdown, Form, Modal } from 'react-bootstrap';
import { useNavigate } from 'react-router';
import { useAlbum } from '../album/AlbumContext.js';
import { useMay } from '../access/VisitorContext.js';
import { IconMenu } from '../ui/IconMenu.js';
import { t } from '../ui/messages.js';

/** Chooses the edition that is shown, and adds, renames and removes editions. */
export function EditionMenu() {
  const { id, editing, edition, showEdition, editWhole } = useAlbum(
    ...(['id', 'editing', 'edition', 'showEdition', 'editWhole'] as const),
  );
  const navigate = useNavigate();
  const [asked, setAsked] = useState<'add' | 'rename' | null>(null);
  const mayWork = useMay('work');
  const { editions } = editing.album;
  if (editions.length === 0 && !mayWork) return null;
  const remove = (): void => {
    editWhole(t('edition “{edition}” removed', { edition }), (album) => removeEdition(album, edition));
  };
  return (
    <>
      <IconMenu icon={Layers} label={edition === '' ? t('Editions') : t('Edition: {edition}', { edition })}>
        {editions.map(({ name, draft }) => (
          <Dropdown.Item key={name} as="button" active={name === edition} onClick={() => showEdition(name)}>
            {draft ? t('{name} (draft)', { name }) : name}
          </Dropdown.Item>
        ))}
        {editions.length > 0 && mayWork && <Dropdown.Divider />}
        {mayWork && editions.length > 1 && (
          <Dropdown.Item as="button" onClick={() => void navigate(`/albums/${id}/editions`)}>
            {t('Compare editions')}
          </Dropdown.Item>
        )}
        {mayWork && (
          <Dropdown.Item as="button" onClick={() => setAsked('add')}>
            {t('Add edition …')}
          </Dropdown.Item>
        )}
        {mayWork && edition !== '' && (
          <Dropdown.Item as="button" onClick={() => setAsked('rename')}>
            {t('Rename edition …')}
          </Dropdown.Item>
        )}
        {mayWork && editions.length > 1 && (
          <Dropdown.Item as="button" onClick={remove}>
            {t('Remove edition')}
          </Dropdown.Item>
        )}
      </IconMenu>
      {asked === 'add' && <AddEdition onClose={() => setAsked(null)} />}
      {asked === 'rename' && <RenameEdition onClose={() => setAsked(null)} />}
    </>
  );
}

/** Why a name can't be that of an edition; undefined: it can. @param own the edition's present name */
function nameFault({ editions }: Album, name: string, own = ''): string | undefined {
  if (name.trim() === '') return t('Enter a name.');
  const isTaken = editions.some(
    (each) => each.name !== own && editionKey(each.name) === editionKey(name.trim()),
  );
  return isTaken ? t('There is already an edition “{name}”.', { name: name.trim() }) : undefined;
}

function NameField({
  label,
  value,
  onChange,
  fault,
}: {
  readonly label: string;
  readonly value: string;
  readonly onChange: (name: string) => void;
  /** Shown once something was typed. */
  readonly fault: string | undefined;
}) {
  const id = useId();
  const [isTyped, setTyped] = useState(false);
  const shown = isTyped ? fault : undefined;
  return (
    <Form.Group controlId={id} className="mb-3">
      <Form.Label>{label}</Form.Label>
      <Form.Control
        value={value}
        maxLength={100}
        isInvalid={shown !== undefined}
        onChange={({ target }) => {
          setTyped(true);
          onChange(target.value);
        }}
      />
      <Form.Control.Feedback type="invalid">{shown}</Form.Control.Feedback>
    </Form.Group>
  );
}

function AddEdition({ onClose }: { readonly onClose: () => void }) {
  const { editing, edition, editWhole, showEdition } = useAlbum(
    ...(['editing', 'edition', 'editWhole', 'showEdition'] as const),
  );
  const whole = editing.album;
  const isFirst = whole.editions.length === 0;
  const [first, setFirst] = useState(t('Album'));
  const [name, setName] = useState('');
  const [draft, setDraft] = useState(false);
  const firstFault = isFirst ? nameFault(whole, first) : undefined;
  const fault =
    nameFault(whole, name) ??
    (isFirst && editionKey(name.trim()) === editionKey(first.trim())
      ? t('There is already an edition “{name}”.', { name: name.trim() })
      : undefined);
  const add = (): void => {
    if (fault !== undefined || firstFault !== undefined) return;
    const chosen = name.trim();
    editWhole(t('edition “{edition}” added', { edition: chosen }), (album) =>
      addEdition(album, chosen, { from: edition, first: first.trim(), draft }),
    );
    showEdition(chosen);
    onClose();
  };
  return (
    <NameDialog title={t('Add edition')} action={t('Add edition')} onAction={add} onClose={onClose}>
      {isFirst && (
        <NameField
          label={t('Name of the album as it is')}
          value={first}
          onChange={setFirst}
          fault={firstFault}
        />
      )}
      <NameField label={t('Name of the new edition')} value={name} onChange={setName} fault={fault} />
      <Form.Check
        id="edition-draft"
        type="switch"
        label={t('Draft: a running order to compare, not to render')}
        checked={draft}
        onChange={({ target }) => setDraft(target.checked)}
      />
      <p className="text-secondary mt-3 mb-0">
        {edition === ''
          ? t('It starts as a copy of the album.')
          : t('It starts as a copy of “{edition}”.', { edition })}{' '}
        {t(
          'Order, spacing, fades, gains, parts and album treatment are its own. Titles, codes, trims and track treatments stay shared.',
        )}
      </p>
    </NameDialog>
  );
}

function RenameEdition({ onClose }: { readonly onClose: () => void }) {
  const { editing, edition, editWhole, showEdition } = useAlbum(
    ...(['editing', 'edition', 'editWhole', 'showEdition'] as const),
  );
  const [name, setName] = useState(edition);
  const fault = nameFault(editing.album, name, edition);
  const rename = (): void => {
    if (fault !== undefined) return;
    const to = name.trim();
    editWhole(t('edition “{edition}” renamed to “{to}”', { edition, to }), (album) =>
      to === edition ? album : renameEdition(album, edition, to),
    );
    showEdition(to);
    onClose();
  };
  return (
    <NameDialog title={t('Rename edition')} action={t('Rename')} onAction={rename} onClose={onClose}>
      <NameField label={t('Name')} value={name} onChange={setName} fault={fault} />
    </NameDialog>
  );
}

function NameDialog({
  title,
  action,
  onAction,
  onClose,
  children,
}: {
  readonly title: string;
  readonly action: string;
  readonly onAction: () => void;
  readonly onClose: () => void;
  readonly children: ReactNode;
}) {
  const id = useId();
  return (
    <Modal show centered onHide={onClose} aria-labelledby={id}>
      <Form
        onSubmit={(event) => {
          event.preventDefault();
          onAction();
        }}
      >
        <Modal.Header>
          <Modal.Title id={id} as="h2">
            {title}
          </Modal.Title>
        </Modal.Header>
        <Modal.Body>{children}</Modal.Body>
        <Modal.Footer>
          <Button variant="outline-primary" onClick={onClose}>
            {t('Cancel')}
          </Button>
          <Button type="submit">{action}</Button>
        </Modal.Footer>
      </Form>
    </Modal>
  );
}
