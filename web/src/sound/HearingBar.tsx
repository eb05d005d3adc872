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
      <div className="sides" role="group" aria-label="What is heard (C)">
        <Side label="as it is now" on={!came} onPress={() => came && hearing.swap()} />
        <ArrowLeftRight size={16} aria-hidden />
        <Side label="as it came" on={came} onPress={() => !came && hearing.swap()} />
        <kbd>C</kbd>
      </div>
      <p className="match text-secondary" role="status">
        {match ? matchWords(match) : 'not matched yet'}
      </p>
      <span className="flex-grow-1" />
      <Button
        variant={playing && hearingStretch ? 'primary' : 'outline-primary'}
        title="The loudest moment of this song, over and over again (M)"
        onClick={hearing.loop}
      >
        <Repeat size={16} aria-hidden /> Loudest moment
      </Button>
      <Button
        variant="outline-primary"
        title="The loudest moments of all songs, one after the other (L)"
        onClick={hearing.walk}
      >
        <Rows3 size={16} aria-hidden /> Of all songs
      </Button>
      <Button
        variant="outline-primary"
        title="Both as X and Y, in an order that nobody knows"
        onClick={hearing.beginBlind}
      >
        <EarOff size={16} aria-hidden /> Blind
      </Button>
    </div>
  );
}

function matchWords({ nowDb, cameDb, over }: NonNullable<Hearing['match']>): string {
  const where = over === 'song' ? 'over the whole song' : 'at its loudest moment';
  const by = Math.min(nowDb, cameDb);
  if (by > -0.05) return `equally loud ${where}`;
  return `${nowDb < cameDb ? 'as it is now' : 'as it came'} ${formatDb(-by)} dB down: equally loud ${where}`;
}

function Side({ label, on, onPress }: { label: string; on: boolean; onPress: () => void }) {
  return (
    <Button size="sm" variant={on ? 'primary' : 'outline-primary'} aria-pressed={on} onClick={onPress}>
      {label}
    </Button>
  );
}

function BlindBar({ hearing, blind }: { hearing: Hearing; blind: NonNullable<Hearing['blind']> }) {
  const told = (which: 'X' | 'Y'): string =>
    blind.xCame === (which === 'X') ? 'as it came' : 'as it is now';
  return (
    <div className="hearing sound-hearing" role="group" aria-label="Listening blind">
      {(['X', 'Y'] as const).map((which) => (
        <Button
          key={which}
          variant={blind.heard === which ? 'primary' : 'outline-primary'}
          aria-pressed={blind.heard === which}
          title={`Hear ${which} (${which})`}
          onClick={() => hearing.hearBlind(which)}
        >
          {which}
          {blind.choice && `: ${told(which)}`}
        </Button>
      ))}
      {blind.choice === null ? (
        <>
          <span className="text-secondary">Equally loud. Which one is it to be?</span>
          <Button variant="outline-primary" onClick={() => hearing.choose('X')}>
            X is better
          </Button>
          <Button variant="outline-primary" onClick={() => hearing.choose('Y')}>
            Y is better
          </Button>
        </>
      ) : (
        <p role="status">
          You chose {blind.choice}: the song <strong>{told(blind.choice)}</strong>.
        </p>
      )}
      <span className="flex-grow-1" />
      {blind.choice !== null && (
        <Button variant="outline-primary" onClick={hearing.beginBlind}>
          Listen blind once more
        </Button>
      )}
      <Button variant="outline-primary" onClick={hearing.endBlind}>
        Enough
      </Button>
    </div>
  );
}
