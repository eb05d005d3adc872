import { flagsOf, type PqSheet } from '@oiseau/formats/disc';
import { formatMsf } from '@oiseau/audio/time';
import { rich, say, t } from '../ui/messages.js';

/** An index as people write it: `01`. */
const two = (index: number): string => String(index).padStart(2, '0');

/** The marks of a disc with its words and codes. */
export function PqTable({ sheet }: { sheet: PqSheet }) {
  return (
    <>
      <p className="pq-facts">
        <b>{sheet.title || t('Untitled')}</b> {sheet.performer}
        {sheet.upc && <span>UPC/EAN {sheet.upc}</span>}
        {sheet.catalogNumber && <span>{sheet.catalogNumber}</span>}
        {sheet.disc && <span>{t('disc {disc}', { disc: sheet.disc })}</span>}
        <span>{t('{count, plural, one {# track} other {# tracks}}', { count: sheet.tracks.length })}</span>
        <span>{rich('playing time <b>{time}</b>', { b: <b /> }, { time: formatMsf(sheet.playing) })}</span>
      </p>
      <table className="table pq-table">
        <thead>
          <tr>
            <th className="num">{t('Track')}</th>
            <th className="num">{t('Index')}</th>
            <th className="num">{t('Start')}</th>
            <th className="num">{t('Length')}</th>
            <th>{t('Title and performer')}</th>
            <th>ISRC</th>
            <th>{t('Flags')}</th>
          </tr>
        </thead>
        {sheet.tracks.map((track) => (
          <tbody key={track.number}>
            {track.pause !== null && (
              <tr className="minor">
                <td />
                <td className="num">00</td>
                <td className="num">{formatMsf(track.pause)}</td>
                <td className="num">{formatMsf(track.pauseLength)}</td>
                <td colSpan={3}>{t('pause')}</td>
              </tr>
            )}
            <tr>
              <td className="num">{track.number}</td>
              <td className="num">01</td>
              <td className="num">{formatMsf(track.start)}</td>
              <td className="num">{formatMsf(track.length)}</td>
              <td>
                {track.title || t('Untitled')} <span className="text-secondary">{track.performer}</span>
              </td>
              <td>{track.isrc}</td>
              <td>{say(flagsOf(track))}</td>
            </tr>
            {track.indexes.map((at, i) => (
              <tr key={at} className="minor">
                <td />
                <td className="num">{two(i + 2)}</td>
                <td className="num">{formatMsf(at)}</td>
                <td colSpan={4} />
              </tr>
            ))}
          </tbody>
        ))}
        <tfoot>
          <tr>
            <td />
            <td />
            <td className="num">{formatMsf(sheet.leadOut)}</td>
            <td />
            <td colSpan={3}>{t('lead-out')}</td>
          </tr>
        </tfoot>
      </table>
    </>
  );
}
