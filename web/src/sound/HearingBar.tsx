import { ArrowLeftRight, EarOff, Repeat, Rows3 } from 'lucide-react';
import { Button } from 'react-bootstrap';
import { usePlayerState } from '../album/PlayerContext.js';
import { formatDb } from '../ui/format.js';
import type { Hearing } from './useHearing.js';
import { rich, t } from '../ui/messages.js';

/** What is heard, and against what. */
export function HearingBar({ hearing }: { hearing: Hearing }) {
  const { blind, came, match } = hearing;
  const playing = usePlayerState((state) => state.playing);
  const hearingStretch = usePlayerState((state) => state.hearing);
  if (blind) return <BlindBar hearing={hearing} blind={blind} />;
  return (
    <div className="hearing sound-hearing">
      <div className="sides" role="group" aria-label={t('Original or treated (C)')}>
        <Side label={t('Treated')} on={!came} onPress={() => came && hearing.swap()} />
        <ArrowLeftRight size={16} aria-hidden />
        <Side label={t('Original')} on={came} onPress={() => !came && hearing.swap()} />
        <kbd>{t('C')}</kbd>
      </div>
      <p className="match text-secondary" role="status">
        {match ? matchWords(match) : t('not matched yet')}
      </p>
      <span className="flex-grow-1" />
      <Button
        variant={playing && hearingStretch ? 'primary' : 'outline-primary'}
        title={t('Loop the loudest passage of this track (M)')}
        onClick={hearing.loop}
      >
        <Repeat size={16} aria-hidden /> {t('Loudest passage')}
      </Button>
      <Button
        variant="outline-primary"
        title={t('Play the loudest passages of all tracks, one after another (L)')}
        onClick={hearing.walk}
      >
        <Rows3 size={16} aria-hidden /> {t('All tracks')}
      </Button>
      <Button
        variant="outline-primary"
        title={t('Compare as X and Y in random order')}
        onClick={hearing.beginBlind}
      >
        <EarOff size={16} aria-hidden /> {t('Blind test')}
      </Button>
    </div>
  );
}

function matchWords({ nowDb, cameDb, over }: NonNullable<Hearing['match']>): string {
  const where = over === 'song' ? t('over the whole track') : t('at the loudest passage');
  const by = Math.min(nowDb, cameDb);
  if (by > -0.05) return t('loudness-matched {where}', { where });
  const values = { level: formatDb(-by), where };
  return nowDb < cameDb
    ? t('treated {level} dB lower: loudness-matched {where}', values)
    : t('original {level} dB lower: loudness-matched {where}', values);
}

function Side({ label, on, onPress }: { label: string; on: boolean; onPress: () => void }) {
  return (
    <Button size="sm" variant={on ? 'primary' : 'outline-primary'} aria-pressed={on} onClick={onPress}>
      {label}
    </Button>
  );
}

function BlindBar({ hearing, blind }: { hearing: Hearing; blind: NonNullable<Hearing['blind']> }) {
  const told = (which: 'X' | 'Y'): string => (blind.xCame === (which === 'X') ? t('Original') : t('Treated'));
  return (
    <div className="hearing sound-hearing" role="group" aria-label={t('Blind test')}>
      {(['X', 'Y'] as const).map((which) => (
        <Button
          key={which}
          variant={blind.heard === which ? 'primary' : 'outline-primary'}
          aria-pressed={blind.heard === which}
          title={t('Play {which} ({which})', { which })}
          onClick={() => hearing.hearBlind(which)}
        >
          {which}
          {blind.choice && `: ${told(which)}`}
        </Button>
      ))}
      {blind.choice === null ? (
        <>
          <span className="text-secondary">{t('Loudness-matched. Which do you prefer?')}</span>
          <Button variant="outline-primary" onClick={() => hearing.choose('X')}>
            {t('X is better')}
          </Button>
          <Button variant="outline-primary" onClick={() => hearing.choose('Y')}>
            {t('Y is better')}
          </Button>
        </>
      ) : (
        <p role="status">
          {rich(
            'You chose {choice}: the <b>{which}</b>.',
            { b: <strong /> },
            { choice: blind.choice, which: told(blind.choice) },
          )}
        </p>
      )}
      <span className="flex-grow-1" />
      {blind.choice !== null && (
        <Button variant="outline-primary" onClick={hearing.beginBlind}>
          {t('Repeat blind test')}
        </Button>
      )}
      <Button variant="outline-primary" onClick={hearing.endBlind}>
        {t('Done')}
      </Button>
    </div>
  );
}
