import { Modal, Table } from 'react-bootstrap';

const LIST: readonly (readonly [keys: string, what: string])[] = [
  ['Space', 'Play from the mark, or stop'],
  ['← →', 'On the Skyline: five seconds back or on'],
  ['Home, End', 'On the Skyline: start or end of the disc'],
  ['+, −', 'On the Skyline: closer, wider; the wheel does the same, with Shift it moves along'],
  ['↑ ↓', 'In the ledger: track before or after'],
  ['T', 'Sequence: hear the transition on the Bench, or stop it'],
  ['N, P', 'Sequence: next transition, transition before'],
  ['L', 'Sequence: hear it over and over again'],
  ['A', 'Sequence: hear all transitions, one after the other'],
  ['Shift', 'While dragging on the Bench: not bound to the frames of the disc'],
  ['Enter', 'In the ledger: play the track from its start'],
  ['Alt ↑, Alt ↓', 'In the ledger: move the track up or down'],
  ['Delete', 'In the ledger: take the track out of the album'],
  ['Esc', 'In a field: leave it as it was'],
  ['Ctrl Z', 'Undo'],
  ['Ctrl Shift Z, Ctrl Y', 'Redo'],
  ['C', 'While cutting: cut at the place that is heard'],
  ['Alt ←, Alt →', 'While cutting: the cut a frame back or on'],
  ['Delete', 'While cutting: join the piece to the one before'],
  ['1 … 6', 'Masters, Sequence, Sleeve, Checks, Render, Proof'],
  ['?', 'This list'],
];

export function ShortcutHelp({ show, onHide }: { show: boolean; onHide: () => void }) {
  return (
    <Modal show={show} onHide={onHide} aria-labelledby="shortcut-title">
      <Modal.Header closeButton>
        <Modal.Title id="shortcut-title">Keys</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <Table size="sm" className="mb-0">
          <tbody>
            {LIST.map(([keys, what]) => (
              <tr key={keys}>
                <th scope="row" className="text-nowrap pe-4">
                  {keys}
                </th>
                <td>{what}</td>
              </tr>
            ))}
          </tbody>
        </Table>
        <p className="mt-3 mb-0 text-secondary">On a Mac, Command stands for Ctrl.</p>
      </Modal.Body>
    </Modal>
  );
}
