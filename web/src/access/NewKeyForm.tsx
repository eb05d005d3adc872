import { ROLES, type KeyRecord, type Role, type ShelfEntry } from '@oiseau/api';
import { useState, type FormEvent } from 'react';
import { Button, Form } from 'react-bootstrap';
import { ROLE_WORDS } from './roles.js';
import { useVisitor } from './VisitorContext.js';
import { t } from '../ui/messages.js';

interface NewKeyFormProps {
  readonly albums: readonly ShelfEntry[];
  /** Others will see who asked for a render: the first person to share a key enters their own name. */
  readonly askOwnName: boolean;
  readonly onMake: (key: Pick<KeyRecord, 'name' | 'role' | 'albums'>, ownName: string) => Promise<void>;
}

/** For whom a key is, what they may do, and which albums it opens. */
export function NewKeyForm({ albums, askOwnName, onMake }: NewKeyFormProps) {
  const [name, setName] = useState('');
  const [own, setOwn] = useState('');
  const [role, setRole] = useState<Role>('assistant');
  // A key to some albums grants no more than those.
  const { unlimited } = useVisitor();
  const [some, setSome] = useState<ReadonlySet<string> | null>(unlimited ? null : new Set());
  const [failure, setFailure] = useState<string | null>(null);
  const make = (event: FormEvent): void => {
    event.preventDefault();
    setFailure(null);
    onMake({ name: name.trim(), role, albums: some && [...some] }, own.trim()).catch((error: unknown) =>
      setFailure(error instanceof Error ? error.message : String(error)),
    );
  };
  return (
    <Form className="new-key" onSubmit={make}>
      <div className="new-key-names">
        <Form.Group controlId="key-name">
          <Form.Label>{t('Name')}</Form.Label>
          <Form.Control
            required
            maxLength={200}
            value={name}
            onChange={({ target }) => setName(target.value)}
          />
        </Form.Group>
        {askOwnName && (
          <Form.Group controlId="key-own-name">
            <Form.Label>{t('Your name, as others see it')}</Form.Label>
            <Form.Control maxLength={200} value={own} onChange={({ target }) => setOwn(target.value)} />
          </Form.Group>
        )}
      </div>
      <RoleChoice role={role} onChange={setRole} />
      <AlbumChoice albums={albums} some={some} onChange={setSome} />
      {failure && (
        <p role="alert" className="text-danger">
          {failure}
        </p>
      )}
      <Button type="submit" disabled={name.trim() === '' || some?.size === 0}>
        {t('Create link')}
      </Button>
    </Form>
  );
}

function RoleChoice({ role, onChange }: { role: Role; onChange: (role: Role) => void }) {
  return (
    <fieldset>
      <legend>{t('Role')}</legend>
      {ROLES.map((each) => (
        <Form.Check
          key={each}
          type="radio"
          name="key-role"
          id={`key-role-${each}`}
          label={
            <>
              {ROLE_WORDS[each].name} <span className="text-secondary">{ROLE_WORDS[each].does}</span>
            </>
          }
          checked={role === each}
          onChange={() => onChange(each)}
        />
      ))}
    </fieldset>
  );
}

/** Which albums a key opens. @param some null: all of them */
function AlbumChoice({
  albums,
  some,
  onChange,
}: {
  readonly albums: readonly ShelfEntry[];
  readonly some: ReadonlySet<string> | null;
  readonly onChange: (some: ReadonlySet<string> | null) => void;
}) {
  // A key to some albums grants no more than those.
  const { unlimited } = useVisitor();
  const choose = (id: string, chosen: boolean): void =>
    onChange(new Set(chosen ? [...(some ?? []), id] : [...(some ?? [])].filter((each) => each !== id)));
  return (
    <fieldset>
      <legend>{t('Albums')}</legend>
      {unlimited && (
        <Form.Check
          type="radio"
          name="key-albums"
          id="key-albums-all"
          label={t('All albums, including future ones')}
          checked={some === null}
          onChange={() => onChange(null)}
        />
      )}
      <Form.Check
        type="radio"
        name="key-albums"
        id="key-albums-some"
        label={t('Only these:')}
        checked={some !== null}
        onChange={() => onChange(new Set())}
      />
      {some && (
        <div className="new-key-albums">
          {albums.map(({ id, title }) => (
            <Form.Check
              key={id}
              id={`key-album-${id}`}
              label={title || t('Untitled album')}
              checked={some.has(id)}
              onChange={({ target }) => choose(id, target.checked)}
            />
          ))}
        </div>
      )}
    </fieldset>
  );
}
