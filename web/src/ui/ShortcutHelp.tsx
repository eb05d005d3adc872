import { Modal } from 'react-bootstrap';
import { t } from './messages.js';

type Keys = readonly (readonly [keys: string, what: string])[];

/** All keys, by the place where they are heard. */
const PLACES: Readonly<Record<string, Keys>> = {
  'In every view of an album': [
    [t('Space'), t('Play from the mark, or stop')],
    ['1 … 8', t('Masters, Sequence, Sound, Sleeve, Checks, Render, Proof, Handover')],
    ['R', t('Play the next alternate version of the album')],
    [t('Ctrl Z'), t('Undo')],
    [t('Ctrl Shift Z, Ctrl Y'), t('Redo')],
    ['Esc', t('In a field or a drag: cancel')],
    ['?', t('This list')],
  ],
  Sequence: [
    ['T', t('Play or stop the transition on the Bench')],
    [t('N, P'), t('Next or previous transition')],
    ['L', t('Loop the transition')],
    ['A', t('Play all transitions, one after another')],
    [t('Alt ←, Alt →'), t('Shorten or lengthen the gap by a frame')],
    ['B', t('Tap the beat of the previous track; the first press plays its ending')],
    ['F', t('Find the beat of the previous track; again: search earlier')],
    [t('H, D'), t('Half or double tempo')],
    ['E', t('Start the next track on the last beat before the end')],
    [t('W, Shift W'), t('Start the next track two bars later or earlier')],
    [t('L, Esc'), t('In Levels: play the loudest passages of all tracks; close')],
    [t('V, Shift V'), t('Show quieter or louder sound on the Bench (also Shift and the wheel)')],
    ['I', t('Add an index point at the playback position')],
    ['Shift', t('While dragging on the Bench: don’t snap')],
    ['↑ ↓', t('In a time field of the Bench: one frame up or down; ten with Shift')],
  ],
  Sound: [
    ['C', t('Switch between original and treated, loudness-matched')],
    ['L', t('Play the loudest passages of all tracks, one after another')],
    ['M', t('Loop the loudest passage of the selected track')],
    [t('N, P'), t('Next or previous track; Enter plays it from its start')],
    [t('X, Y'), t('In a blind test: play X or Y')],
    ['B', t('Add an equaliser band')],
    ['← → ↑ ↓', t('On a band or a point: move it; with Shift in larger steps')],
    ['+, −', t('On a band: narrower or wider (also the wheel)')],
    [t('Delete'), t('On a band or a point: remove it')],
  ],
  'On the Skyline': [
    ['← →', t('Five seconds back or forward')],
    [t('Home, End'), t('Start or end of the disc')],
    ['+, −', t('Zoom in or out (also the wheel; with Shift it pans)')],
  ],
  'In the track table': [
    ['↑ ↓, Home, End', t('Previous or next row; in a field, the same field of that row')],
    [t('Shift ↑, Shift ↓'), t('Select several rows (also Shift-click and Ctrl-click)')],
    [t('Ctrl A'), t('Select all rows; Esc selects one')],
    ['Enter', t('Play the track from its start')],
    [t('Alt ↑, Alt ↓'), t('Move the selected tracks up or down')],
    [t('Delete'), t('Remove the selected tracks from the album')],
  ],
  'In the grid of the Sleeve': [
    [t('Arrows, Tab, Enter'), t('Move between cells; typing replaces the text')],
    ['F2', t('Edit the text; Esc cancels')],
    [t('Shift, arrows'), t('Select a block; Ctrl A selects all')],
    [t('Ctrl C, X, V'), t('Copy, cut or paste the block, also with a spreadsheet')],
    [t('Ctrl D'), t('Fill down')],
    [t('Delete'), t('Clear the selected cells')],
  ],
  'In the final listen': [
    ['M', t('Add a note at the playback position')],
    ['←, →', t('Five seconds back or forward')],
    ['↑, ↓', t('Start of the track, or of the next track')],
  ],
  'While cutting': [
    ['C', t('Cut at the playback position')],
    [t('Alt ←, Alt →'), t('Move the cut by a frame')],
    [t('Delete'), t('Join the piece to the previous one')],
  ],
};

export function ShortcutHelp({ show, onHide }: { show: boolean; onHide: () => void }) {
  return (
    <Modal show={show} onHide={onHide} size="xl" scrollable aria-labelledby="shortcut-title">
      <Modal.Header closeButton>
        <Modal.Title id="shortcut-title">{t('Keys')}</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <div className="key-places">
          {Object.entries(PLACES).map(([place, keys]) => (
            <section key={place} aria-label={place}>
              <h3>{place}</h3>
              <dl>
                {keys.map(([pressed, what]) => (
                  <div key={pressed}>
                    <dt>{pressed}</dt>
                    <dd>{what}</dd>
                  </div>
                ))}
              </dl>
            </section>
          ))}
        </div>
        <p className="mt-3 mb-0 text-secondary">{t('On a Mac, use Command instead of Ctrl.')}</p>
      </Modal.Body>
    </Modal>
  );
}
