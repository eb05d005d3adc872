import { ArrowLeftRight, EarOff, Repeat, Rows3 } from 'lucide-react';
import { Button } from 'react-bootstrap';
import { usePlayerState } from '../album/PlayerContext.js';
import { formatDb } from '../ui/format.js';
import type { Hearing } from './useHearing.js';

/** What is heard, and against what. */
export function HearingBar({ hearing }: { hearing: Hearing }) {
  const { blind, came, match } = hearing;
  const playing = usePlayerState((state) => state.playing);
  const hearingStretch = usePlayerState((state) => state.hearing);
  if (blind) return <BlindBar hearing={hearing} blind={blind} />;
  return (
    <div className="hearing sound-hearing">
      <div className="sides" role="group" aria-label="Original or treated (C)">
        <Side label="Treated" on={!came} onPress={() => came && hearing.swap()} />
        <ArrowLeftRight size={16} aria-hidden />
        <Side label="Original" on={came} onPress={() => !came && hearing.swap()} />
        <kbd>C</kbd>
      </div>
      <p className="match text-secondary" role="status">
        {match ? matchWords(match) : 'not matched yet'}
      </p>
      <span className="flex-grow-1" />
      <Button
        variant={playing && hearingStretch ? 'primary' : 'outline-primary'}
        title="Loop the loudest passage of this track (M)"
        onClick={hearing.loop}
      >
        <Repeat size={16} aria-hidden /> Loudest passage
      </Button>
      <Button
        variant="outline-primary"
        title="Play the loudest passages of all tracks, one after another (L)"
        onClick={hearing.walk}
      >
        <Rows3 size={16} aria-hidden /> All tracks
      </Button>
      <Button
        variant="outline-primary"
        title="Compare as X and Y in random order"
        onClick={hearing.beginBlind}
      >
        <EarOff size={16} aria-hidden /> Blind test
      </Button>
    </div>
  );
}

function matchWords({ nowDb, cameDb, over }: NonNullable<Hearing['match']>): string {
  const where = over === 'song' ? 'over the whole track' : 'at the loudest passage';
  const by = Math.min(nowDb, cameDb);
  if (by > -0.05) return `loudness-matched ${where}`;
  return `${nowDb < cameDb ? 'treated' : 'original'} ${formatDb(-by)} dB lower: loudness-matched ${where}`;
}

function Side({ label, on, onPress }: { label: string; on: boolean; onPress: () => void }) {
  return (
    <Button size="sm" variant={on ? 'primary' : 'outline-primary'} aria-pressed={on} onClick={onPress}>
      {label}
    </Button>
  );
}

function BlindBar({ hearing, blind }: { hearing: Hearing; blind: NonNullable<Hearing['blind']> }) {
  const told = (which: 'X' | 'Y'): string => (blind.xCame === (which === 'X') ? 'Original' : 'Treated');
  return (
    <div className="hearing sound-hearing" role="group" aria-label="Blind test">
      {(['X', 'Y'] as const).map((which) => (
        <Button
          key={which}
          variant={blind.heard === which ? 'primary' : 'outline-primary'}
          aria-pressed={blind.heard === which}
          title={`Play ${which} (${which})`}
          onClick={() => hearing.hearBlind(which)}
        >
          {which}
          {blind.choice && `: ${told(which)}`}
        </Button>
      ))}
      {blind.choice === null ? (
        <>
          <span className="text-secondary">Loudness-matched. Which do you prefer?</span>
          <Button variant="outline-primary" onClick={() => hearing.choose('X')}>
            X is better
          </Button>
          <Button variant="outline-primary" onClick={() => hearing.choose('Y')}>
            Y is better
          </Button>
        </>
      ) : (
        <p role="status">
          You chose {blind.choice}: the <strong>{told(blind.choice)}</strong>.
        </p>
      )}
      <span className="flex-grow-1" />
      {blind.choice !== null && (
        <Button variant="outline-primary" onClick={hearing.beginBlind}>
          Repeat blind test
        </Button>
      )}
      <Button variant="outline-primary" onClick={hearing.endBlind}>
        Done
      </Button>
    </div>
  );
}
