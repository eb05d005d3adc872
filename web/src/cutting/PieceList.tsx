import { parseTime, ticksToSamples } from '@oiseau/audio/time';
import { pieceEnd, type Cutting, type Piece } from '@oiseau/formats/cutting';
import { Play, Merge } from 'lucide-react';
import { Form } from 'react-bootstrap';
import { DraftField } from '../ui/DraftField.js';
import { formatPlace } from '../ui/format.js';

interface PieceListProps {
  readonly rate: number;
  readonly cutting: Cutting;
  readonly chosen: number;
  readonly onChoose: (piece: number) => void;
  readonly onPlay: (sample: number) => void;
  /** Takes the cut before a piece away. */
  readonly onJoin: (piece: number) => void;
  readonly onMove: (piece: number, to: number) => void;
  readonly onChange: (piece: number, change: Partial<Piece>) => void;
}

/** The pieces: named, typed, left out and joined in place. */
export function PieceList({
  rate,
  cutting,
  chosen,
  onChoose,
  onPlay,
  onJoin,
  onMove,
  onChange,
}: PieceListProps) {
  const clock = (sample: number): string => formatPlace(sample, rate);
  const numbers = cutting.pieces.map((piece, i) =>
    piece.keep ? cutting.pieces.slice(0, i + 1).filter(({ keep }) => keep).length : null,
  );
  return (
    <div className="piece-list">
      <table className="table">
        <thead>
          <tr>
            <th className="num">No.</th>
            <th />
            <th>Name</th>
            <th className="num">From</th>
            <th className="num">Length</th>
            <th>Keep</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {cutting.pieces.map((piece, i) => (
            <tr
              key={i}
              className={`${i === chosen ? 'chosen' : ''} ${piece.keep ? '' : 'left-out'}`}
              aria-label={`piece ${i + 1}`}
              onPointerDown={() => i !== chosen && onChoose(i)}
            >
              <td className="num">{numbers[i] ?? '–'}</td>
              <td>
                <button
                  type="button"
                  className="row-button"
                  aria-label={`Play piece ${i + 1}`}
                  onClick={() => onPlay(piece.start)}
                >
                  <Play size={14} aria-hidden />
                </button>
              </td>
              <td className="name">
                <DraftField
                  label={`Name of piece ${i + 1}`}
                  className="plain"
                  value={piece.name}
                  placeholder={piece.keep ? `Part ${numbers[i]}` : 'left out'}
                  onCommit={(name) => onChange(i, { name })}
                />
              </td>
              <td className="num time">
                {i === 0 ? (
                  <span className="first-start">{clock(0)}</span>
                ) : (
                  <DraftField
                    label={`Start of piece ${i + 1}`}
                    className="plain num"
                    value={clock(piece.start)}
                    fault={(text) =>
                      parseTime(text) === undefined ? 'A time such as 3:02.5 or 182.5 s.' : undefined
                    }
                    onCommit={(text) => {
                      const time = parseTime(text);
                      if (time !== undefined) onMove(i, ticksToSamples(time, rate));
                    }}
                  />
                )}
              </td>
              <td className="num">{clock(pieceEnd(cutting, i) - piece.start)}</td>
              <td>
                <Form.Check
                  aria-label={`Keep piece ${i + 1}`}
                  checked={piece.keep}
                  onChange={({ target }) => onChange(i, { keep: target.checked })}
                />
              </td>
              <td>
                {i > 0 && (
                  <button
                    type="button"
                    className="row-button"
                    aria-label={`Join piece ${i + 1} to the one before`}
                    title="Join to the one before (Delete)"
                    onClick={() => onJoin(i)}
                  >
                    <Merge size={14} aria-hidden />
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
