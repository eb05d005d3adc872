import { Modal } from 'react-bootstrap';

type Keys = readonly (readonly [keys: string, what: string])[];

/** All keys, by the place where they are heard. */
const PLACES: Readonly<Record<string, Keys>> = {
  'In every view of an album': [
    ['Space', 'Play from the mark, or stop'],
    ['1 … 8', 'Masters, Sequence, Sound, Sleeve, Checks, Render, Proof, Handover'],
    ['R', 'The next recording of the album, where songs have others than their masters'],
    ['Ctrl Z', 'Undo'],
    ['Ctrl Shift Z, Ctrl Y', 'Redo'],
    ['Esc', 'In a field: leave it as it was; in a drag: take it back'],
    ['?', 'This list'],
  ],
  Sequence: [
    ['T', 'Hear the transition on the Bench, or stop it'],
    ['N, P', 'Next transition, transition before'],
    ['L', 'Hear it over and over again'],
    ['A', 'Hear all transitions, one after the other'],
    ['Alt ←, Alt →', 'The gap a frame shorter or longer'],
    ['B', 'Tap the beat of the song before; the first press plays its ending'],
    ['F', 'Find the beat of the song before; once more, before the place where it was found'],
    ['H, D', 'Half as fast, twice as fast'],
    ['E', 'The next song begins on the last beat before the end'],
    ['W, Shift W', 'Same beat, two bars later or earlier'],
    ['L, Esc', 'In the levels: the loudest moments of all songs, one after the other; close them'],
    ['V, Shift V', 'Quieter sound on the Bench, louder sound; the wheel with Shift does the same'],
    ['I', 'An index point where the song is heard'],
    ['Shift', 'While dragging on the Bench: caught by nothing'],
    ['↑ ↓', 'In a time of the Bench: a frame more or less, with Shift ten'],
  ],
  Sound: [
    ['C', 'As it came, as it is now: one for the other, at the same loudness'],
    ['L', 'The loudest moments of all songs, one after the other'],
    ['M', 'The loudest moment of the song in hand, over and over again'],
    ['N, P', 'Next song, song before; Enter plays it from its start'],
    ['X, Y', 'While listening blind: the one or the other'],
    ['B', 'A new band of the equaliser'],
    ['← → ↑ ↓', 'On a band or a point: move it, with Shift in larger steps'],
    ['+, −', 'On a band: narrower, wider; the wheel does the same'],
    ['Delete', 'On a band or a point: take it out'],
  ],
  'On the Skyline': [
    ['← →', 'Five seconds back or on'],
    ['Home, End', 'Start or end of the disc'],
    ['+, −', 'Closer, wider; the wheel does the same, with Shift it moves along'],
  ],
  'In the ledger': [
    ['↑ ↓, Home, End', 'From row to row; in a field, to the same one of the next row'],
    ['Shift ↑, Shift ↓', 'Choose several rows; Shift and Ctrl with a press do so too'],
    ['Ctrl A', 'Choose all of them; Esc chooses one again'],
    ['Enter', 'Play the track from its start'],
    ['Alt ↑, Alt ↓', 'Move what is chosen up or down'],
    ['Delete', 'Take what is chosen out of the album'],
  ],
  'In the grid of the Sleeve': [
    ['Arrows, Tab, Enter', 'From cell to cell; typing replaces what stands there'],
    ['F2', 'Change the text in hand; Esc leaves it as it was'],
    ['Shift, arrows', 'Choose a block; Ctrl A chooses all'],
    ['Ctrl C, X, V', 'Copy, cut, paste the block, also from and to a spreadsheet'],
    ['Ctrl D', 'Fill down'],
    ['Delete', 'Empty what is chosen'],
  ],
  'At the last listen': [
    ['M', 'Note the moment that is heard'],
    ['←, →', 'Five seconds back or on'],
    ['↑, ↓', 'To the start of the track, or of the next'],
  ],
  'While cutting': [
    ['C', 'Cut at the place that is heard'],
    ['Alt ←, Alt →', 'The cut a frame back or on'],
    ['Delete', 'Join the piece to the one before'],
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
        <p className="mt-3 mb-0 text-secondary">On a Mac, Command stands for Ctrl.</p>
      </Modal.Body>
    </Modal>
  );
}
