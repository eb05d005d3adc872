import { masterDoubts, wordDoubt } from '@oiseau/checks';
import { masterTicks } from '@oiseau/album/model';
import { ArrowLeft, ChevronLeft, ChevronRight, CircleAlert, RefreshCw, Scissors } from 'lucide-react';
import { useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useNavigate } from 'react-router';
import { useAlbum } from '../album/AlbumContext.js';
import { playersOf, playersText } from '../album/song-name.js';
import { useSilhouettes } from '../api/queries.js';
import type { MasterRecord } from '@oiseau/api';
import { masterGuest } from '../player/guest.js';
import { PLAYER_RATE } from '../player/player.js';
import { useGuest, usePlayer } from '../album/PlayerContext.js';
import { clockText, formatBytes, formatRate } from '../ui/format.js';
import { IconButton } from '../ui/IconButton.js';
import { LoudnessChart, SpectrumChart } from './charts.js';
import { ClippedPlaces } from './ClippedPlaces.js';
import { EdgePane } from './EdgePane.js';
import { EmbeddedOffer } from './EmbeddedOffer.js';
import { Figures } from './Figures.js';
import { MasterSilhouette } from './MasterSilhouette.js';
import { Measuring } from './Measuring.js';
import { ReplaceDialog } from './ReplaceDialog.js';
import { UpperEndChart } from './UpperEndChart.js';
import { useAddTrack } from './useAddTrack.js';
import { useChosenMaster } from './useChosenMaster.js';
import { versionsOf } from './versions.js';
import { formWords, wordWords } from './words.js';
import { say, t } from '../ui/messages.js';

/** One master, large: what an engineer looks at before it goes on the record. */
export function MasterPage() {
  const { id } = useAlbum('id');
  const master = useChosenMaster();
  if (!master) {
    return (
      <div className="empty">
        <p className="empty-lead">{t('This album has no such master.')}</p>
        <Link to={`/albums/${id}/masters`}>{t('All masters')}</Link>
      </div>
    );
  }
  return <OpenMaster key={master.sha256} master={master} />;
}

function OpenMaster({ master }: { master: MasterRecord }) {
  const { masters } = useAlbum('masters');
  const player = usePlayer();
  const outline = useSilhouettes(masters).get(master.sha256);
  useGuest(useMemo(() => masterGuest(master), [master]));
  /** Plays from a sample of the master. */
  const play = (sample: number): void =>
    void player.play(Math.max(0, (sample / master.info.rate) * PLAYER_RATE));
  return (
    <div className="master-page">
      <Head master={master} />
      {master.measurement ? (
        <>
          <Figures master={master} />
          <Doubts master={master} />
          <EmbeddedOffer master={master} />
          <MasterSilhouette master={master} outline={outline} />
          <ClippedPlaces master={master} onPlay={play} />
          <div className="master-pair">
            <EdgePane master={master} edge={'head'} onPlay={play} />
            <EdgePane master={master} edge={'tail'} onPlay={play} />
          </div>
          <div className="master-pair">
            <LoudnessChart master={master} onPlay={play} />
            <SpectrumChart master={master} masters={masters} />
          </div>
          <UpperEndChart master={master} doubts={masterDoubts(master)} onPlay={play} />
        </>
      ) : (
        <Measuring master={master} />
      )}
    </div>
  );
}

function Head({ master }: { master: MasterRecord }) {
  const { id, masters, parts } = useAlbum('id', 'masters', 'parts');
  const addTrack = useAddTrack();
  const navigate = useNavigate();
  const [replacing, setReplacing] = useState(false);
  const place = masters.findIndex(({ sha256 }) => sha256 === master.sha256);
  const go = (to: MasterRecord | undefined): void => {
    if (to) void navigate(`/albums/${id}/masters/${to.sha256}`);
  };
  const version = versionsOf(masters).get(master.sha256);
  const playedBy = playersOf(parts, master.sha256);
  return (
    <div className="view-head">
      <Link
        to={`/albums/${id}/masters`}
        className="btn btn-link icon-button"
        aria-label={t('All masters')}
        title={t('All masters')}
      >
        <ArrowLeft size={18} aria-hidden />
      </Link>
      <div className="master-name">
        <h2 title={master.name}>{master.name}</h2>
        <span className="text-secondary">
          {[
            formWords(master),
            ...(master.coding?.lossy ? [] : [wordWords(master)]),
            formatRate(master.info.rate),
            clockText(masterTicks(master.info), 3),
            formatBytes(master.bytes),
            ...(version && version.of > 1
              ? [t('version {number} of {of}', { number: version.number, of: version.of })]
              : []),
          ].join(' · ')}{' '}
          ·{' '}
          {playedBy.length > 0 ? (
            t('used as {playersText}', { playersText: playersText(playedBy) })
          ) : (
            <Button variant="link" size="sm" className="p-0 align-baseline" onClick={() => addTrack(master)}>
              {t('Add as track')}
            </Button>
          )}
        </span>
      </div>
      <Button variant="outline-primary" onClick={() => setReplacing(true)}>
        <RefreshCw size={16} aria-hidden /> {t('Replace')}
      </Button>
      <Link to="cut" className="btn btn-outline-primary">
        <Scissors size={16} aria-hidden /> {t('Cut into tracks')}
      </Link>
      <div className="d-flex">
        <IconButton
          icon={ChevronLeft}
          label={t('Previous master')}
          disabled={place <= 0}
          onClick={() => go(masters[place - 1])}
        />
        <IconButton
          icon={ChevronRight}
          label={t('Next master')}
          disabled={place >= masters.length - 1}
          onClick={() => go(masters[place + 1])}
        />
      </div>
      {replacing && <ReplaceDialog master={master} onHide={() => setReplacing(false)} />}
    </div>
  );
}

function Doubts({ master }: { master: MasterRecord }) {
  const doubts = masterDoubts(master);
  if (doubts.length === 0) return null;
  return (
    <ul className="doubt-list" aria-label={t('Concerns')}>
      {doubts.map((doubt) => (
        <li key={doubt.code} className="doubt">
          <CircleAlert size={14} aria-hidden /> {say(wordDoubt(doubt))}
        </li>
      ))}
    </ul>
  );
}
