import { trackAtIndex, wordFinding, type Finding, type Severity } from '@oiseau/core';
import { CircleCheck, CircleX, Info, TriangleAlert, type LucideIcon } from 'lucide-react';
import { Link } from 'react-router';
import { useAlbum } from '../album/AlbumContext.js';
import { useFindings } from './useFindings.js';

const SIGNS: Record<Severity, { icon: LucideIcon; word: string; means: string }> = {
  error: { icon: CircleX, word: 'Error', means: 'this can’t be pressed' },
  warning: { icon: TriangleAlert, word: 'Warning', means: 'somebody will ask' },
  hint: { icon: Info, word: 'Hint', means: 'worth a look' },
};

/** Where a finding is mended. */
function stepFor({ code }: Finding): 'masters' | 'sequence' | 'sleeve' {
  if (code === 'no-tracks') return 'masters';
  return ['isrc-malformed', 'isrc-double', 'upc-malformed', 'title-empty', 'album-title-empty'].includes(code)
    ? 'sleeve'
    : 'sequence';
}

/** What is wrong or doubtful, each with the way to where it is mended. */
export function ChecksView() {
  const { id, album } = useAlbum();
  const findings = useFindings();
  return (
    <div className="checks">
      <div className="view-head">
        <h2>Checks</h2>
      </div>
      {findings.length === 0 && (
        <p className="all-clear">
          <CircleCheck size={20} aria-hidden /> Nothing is wrong: the disc is legal and the codes that are
          given are valid.
        </p>
      )}
      <ul className="finding-list">
        {findings.map((finding, i) => {
          const { icon: Icon, word, means } = SIGNS[finding.severity];
          const track = 'track' in finding ? trackAtIndex(album, finding.track) : undefined;
          return (
            <li key={i} className={finding.severity}>
              <span className="finding-sign" title={means}>
                <Icon size={18} aria-hidden /> {word}
              </span>
              <span className="finding-place">
                {'track' in finding
                  ? `${finding.track < 0 ? 'Hidden' : `Track ${finding.track + 1}`} ${track?.title ?? ''}`
                  : 'Album'}
              </span>
              <span className="finding-words">{wordFinding(finding)}</span>
              <Link to={`/albums/${id}/${stepFor(finding)}`}>Go there</Link>
            </li>
          );
        })}
      </ul>
    </div>
  );
}
