import { Modal } from 'react-bootstrap';

type Keys = readonly (readonly [keys: string, what: string])[];

/** All keys, by the place where they are heard. */
const PLACES: Readonly<Record<string, Keys>> = {
  'In every view of an album': [
    ['Space', 'Play from the mark, or stop'],
    ['1 … 8', 'Masters, Sequence, Sound, Sleeve, Checks, Render, Proof, Handover'],
    ['R', 'Play the next alternate version of the album'],
    ['Ctrl Z', 'Undo'],
    ['Ctrl Shift Z, Ctrl Y', 'Redo'],
    ['Esc', 'In a field or a drag: cancel'],
    ['?', 'This list'],
  ],
  Sequence: [
    ['T', 'Play or stop the transition on the Bench'],
    ['N, P', 'Next or previous transition'],
    ['L', 'Loop the transition'],
    ['A', 'Play all transitions, one after another'],
    ['Alt ←, Alt →', 'Shorten or lengthen the gap by a frame'],
    ['B', 'Tap the beat of the previous track; the first press plays its ending'],
    ['F', 'Find the beat of the previous track; again: search earlier'],
    ['H, D', 'Half or double tempo'],
    ['E', 'Start the next track on the last beat before the end'],
    ['W, Shift W', 'Start the next track two bars later or earlier'],
    ['L, Esc', 'In Levels: play the loudest passages of all tracks; close'],
    ['V, Shift V', 'Show quieter or louder sound on the Bench (also Shift and the wheel)'],
    ['I', 'Add an index point at the playback position'],
    ['Shift', 'While dragging on the Bench: don’t snap'],
    ['↑ ↓', 'In a time field of the Bench: one frame up or down; ten with Shift'],
  ],
  Sound: [
    ['C', 'Switch between original and treated, loudness-matched'],
    ['L', 'Play the loudest passages of all tracks, one after another'],
    ['M', 'Loop the loudest passage of the selected track'],
    ['N, P', 'Next or previous track; Enter plays it from its start'],
    ['X, Y', 'In a blind test: play X or Y'],
    ['B', 'Add an equaliser band'],
    ['← → ↑ ↓', 'On a band or a point: move it; with Shift in larger steps'],
    ['+, −', 'On a band: narrower or wider (also the wheel)'],
    ['Delete', 'On a band or a point: remove it'],
  ],
  'On the Skyline': [
    ['← →', 'Five seconds back or forward'],
    ['Home, End', 'Start or end of the disc'],
    ['+, −', 'Zoom in or out (also the wheel; with Shift it pans)'],
  ],
  'In the track table': [
    ['↑ ↓, Home, End', 'Previous or next row; in a field, the same field of that row'],
    ['Shift ↑, Shift ↓', 'Select several rows (also Shift-click and Ctrl-click)'],
    ['Ctrl A', 'Select all rows; Esc selects one'],
    ['Enter', 'Play the track from its start'],
    ['Alt ↑, Alt ↓', 'Move the selected tracks up or down'],
    ['Delete', 'Remove the selected tracks from the album'],
  ],
  'In the grid of the Sleeve': [
    ['Arrows, Tab, Enter', 'Move between cells; typing replaces the text'],
    ['F2', 'Edit the text; Esc cancels'],
    ['Shift, arrows', 'Select a block; Ctrl A selects all'],
    ['Ctrl C, X, V', 'Copy, cut or paste the block, also with a spreadsheet'],
    ['Ctrl D', 'Fill down'],
    ['Delete', 'Clear the selected cells'],
  ],
  'In the final listen': [
    ['M', 'Add a note at the playback position'],
    ['←, →', 'Five seconds back or forward'],
    ['↑, ↓', 'Start of the track, or of the next track'],
  ],
  'While cutting': [
    ['C', 'Cut at the playback position'],
    ['Alt ←, Alt →', 'Move the cut by a frame'],
    ['Delete', 'Join the piece to the previous one'],
  ],
};

export function ShortcutHelp({ show, onHide }: { show: boolean; onHide: () => void }) {
  return (
    <Modal show={show} onHide={onHide} size="xl" scrollable aria-labelledby="shortcut-title">
      <Modal.Header closeButton>
        <Modal.Title id="shortcut-title">Keys</Modal.Title>
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
        <p className="mt-3 mb-0 text-secondary">On a Mac, use Command instead of Ctrl.</p>
      </Modal.Body>
    </Modal>
  );
}
