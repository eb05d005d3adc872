import { CueSheetError } from '@oiseau/formats/disc';
import { cutAtMarks, MarkListError, readMarks, type Cutting } from '@oiseau/formats/cutting';
import { ticksToSamples } from '@oiseau/audio/time';
import { useRef, useState } from 'react';
import { Alert, Button, Form, Modal } from 'react-bootstrap';
import type { MasterRecord } from '@oiseau/api';
import { t } from '../ui/messages.js';

/** Cuts from marks that came with the recording: in the file, in a cue sheet, or in a list of times and names. */
export function MarkSources({
  master,
  cutting,
  onCut,
}: {
  master: MasterRecord;
  cutting: Cutting;
  onCut: (cutting: Cutting) => void;
}) {
  const [listing, setListing] = useState(false);
  const { cues } = master.embedded;
  return (
    <fieldset className="cut-tool">
      <div className="cut-row">
        <legend>{t('From marks')}</legend>
        {cues.length > 0 && (
          <Button size="sm" variant="outline-primary" onClick={() => onCut(cutAtMarks(cutting.length, cues))}>
            {t('From {count, plural, one {# mark} other {# marks}} in the file', { count: cues.length })}
          </Button>
        )}
        <Button size="sm" variant="outline-primary" onClick={() => setListing(true)}>
          {t('From a list or cue sheet')}
        </Button>
      </div>
      {listing && (
        <ListDialog
          rate={master.info.rate}
          length={cutting.length}
          onHide={() => setListing(false)}
          onCut={(cut) => {
            onCut(cut);
            setListing(false);
          }}
        />
      )}
    </fieldset>
  );
}

function ListDialog({
  rate,
  length,
  onHide,
  onCut,
}: {
  rate: number;
  length: number;
  onHide: () => void;
  onCut: (cutting: Cutting) => void;
}) {
  const [text, setText] = useState('');
  const input = useRef<HTMLInputElement>(null);
  const read = readList(text, rate, length);
  return (
    <Modal show onHide={onHide} aria-labelledby="marks-title">
      <Modal.Header closeButton>
        <Modal.Title id="marks-title">{t('Times and titles')}</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <p className="text-secondary">
          {t(
            'One per line, such as “12:30 Ebb”, or the text of a cue sheet. Audio before the first time is left out.',
          )}
        </p>
        <Form.Control
          as="textarea"
          rows={10}
          aria-label={t('Times and titles')}
          value={text}
          onChange={({ target }) => setText(target.value)}
        />
        <input
          ref={input}
          type="file"
          hidden
          accept=".cue,.txt,text/plain"
          aria-label={t('Cue sheet or list')}
          onChange={({ target }) => {
            const file = target.files?.[0];
            target.value = '';
            if (file) void file.text().then(setText);
          }}
        />
        {'fault' in read && text.trim() !== '' && (
          <Alert variant="danger" className="mt-3 mb-0">
            {read.fault}
          </Alert>
        )}
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-primary" onClick={() => input.current?.click()}>
          {t('Import from a file')}
        </Button>
        <Button disabled={'fault' in read} onClick={() => 'cutting' in read && onCut(read.cutting)}>
          {'cutting' in read
            ? t('Cut into {count, plural, one {# piece} other {# pieces}}', {
                count: read.cutting.pieces.length,
              })
            : t('Cut')}
        </Button>
      </Modal.Footer>
    </Modal>
  );
}

function readList(text: string, rate: number, length: number): { cutting: Cutting } | { fault: string } {
  try {
    const marks = readMarks(text).map(({ at, name }) => ({ at: ticksToSamples(at, rate), name }));
    const outside = marks.find(({ at }) => at >= length);
    if (outside)
      return { fault: t('“{name}” starts after the end of the recording.', { name: outside.name }) };
    return marks.length === 0
      ? { fault: t('No times were found in the text.') }
      : { cutting: cutAtMarks(length, marks) };
  } catch (error) {
    if (error instanceof MarkListError || error instanceof CueSheetError) return { fault: error.message };
    throw error;
  }
}
