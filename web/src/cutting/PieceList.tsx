import { parseTime, ticksToSamples } from '@oiseau/audio/time';
import { pieceEnd, type Cutting, type Piece } from '@oiseau/formats/cutting';
import { Play, Merge } from 'lucide-react';
import { Form } from 'react-bootstrap';
import { DraftField } from '../ui/DraftField.js';
import { formatPlace } from '../ui/format.js';
import { t } from '../ui/messages.js';

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
export function PieceList(props: PieceListProps) {
  const { pieces } = props.cutting;
  const numbers = pieces.map((piece, i) =>
    piece.keep ? pieces.slice(0, i + 1).filter(({ keep }) => keep).length : null,
  );
  return (
    <div className="piece-list">
      <table className="table">
        <thead>
          <tr>
            <th className="num">{t('No.')}</th>
            <th />
            <th>{t('Name')}</th>
            <th className="num">{t('From')}</th>
            <th className="num">{t('Length')}</th>
            <th>{t('Keep')}</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {pieces.map((piece, i) => (
            <PieceRow key={i} {...props} piece={piece} place={i} number={numbers[i] ?? null} />
          ))}
        </tbody>
      </table>
    </div>
  );
}

interface PieceRowProps extends PieceListProps {
  readonly piece: Piece;
  readonly place: number;
  /** Of the track that it becomes; null: it is left out. */
  readonly number: number | null;
}

function PieceRow(props: PieceRowProps) {
  const { rate, cutting, chosen, onChoose, onPlay, onJoin, onChange, piece, place, number } = props;
  return (
    <tr
      className={`${place === chosen ? 'chosen' : ''} ${piece.keep ? '' : 'left-out'}`}
      aria-label={t('piece {place}', { place: place + 1 })}
      onPointerDown={() => place !== chosen && onChoose(place)}
    >
      <td className="num">{number ?? '–'}</td>
      <td>
        <button
          type="button"
          className="row-button"
          aria-label={t('Play piece {place}', { place: place + 1 })}
          onClick={() => onPlay(piece.start)}
        >
          <Play size={14} aria-hidden />
        </button>
      </td>
      <td className="name">
        <DraftField
          label={t('Name of piece {place}', { place: place + 1 })}
          className="plain"
          value={piece.name}
          placeholder={piece.keep ? t('Part {number}', { number }) : t('left out')}
          onCommit={(name) => onChange(place, { name })}
        />
      </td>
      <td className="num time">
        <StartField {...props} />
      </td>
      <td className="num">{formatPlace(pieceEnd(cutting, place) - piece.start, rate)}</td>
      <td>
        <Form.Check
          aria-label={t('Keep piece {place}', { place: place + 1 })}
          checked={piece.keep}
          onChange={({ target }) => onChange(place, { keep: target.checked })}
        />
      </td>
      <td>
        {place > 0 && (
          <button
            type="button"
            className="row-button"
            aria-label={t('Join piece {place} to the previous one', { place: place + 1 })}
            title={t('Join to the previous one (Delete)')}
            onClick={() => onJoin(place)}
          >
            <Merge size={14} aria-hidden />
          </button>
        )}
      </td>
    </tr>
  );
}

/** Where a piece begins; the first begins with the recording. */
function StartField({ rate, piece, place, onMove }: PieceRowProps) {
  if (place === 0) return <span className="first-start">{formatPlace(0, rate)}</span>;
  return (
    <DraftField
      label={t('Start of piece {place}', { place: place + 1 })}
      className="plain num"
      value={formatPlace(piece.start, rate)}
      fault={(text) =>
        parseTime(text) === undefined ? t('Enter a time such as 3:02.5 or 182.5 s.') : undefined
      }
      onCommit={(text) => {
        const time = parseTime(text);
        if (time !== undefined) onMove(place, ticksToSamples(time, rate));
      }}
    />
  );
}
