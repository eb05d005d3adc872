import { plantReceipt, serviceReceipt, type DiscReportRecord, type HandoverRecord } from '@oiseau/api';
import { formatMsf, frames } from '@oiseau/audio/time';
import { CircleCheck, CircleX } from 'lucide-react';
import { count, formatDb } from '../ui/format.js';

/** What a receiver has sent back. @param full all of it; else only what was read back of discs */
export function Receipt({ handover, full }: { readonly handover: HandoverRecord; readonly full: boolean }) {
  const { told, sums } = handover;
  if (!told) return null;
  return (
    <div className="receipt">
      {told.copies.map((report) => (
        <CopyLine key={report.copy} report={report} />
      ))}
      {full && <Words receipt={told.receipt ?? {}} />}
      {full && sums && <p className="sum">Checksum of the shipment: {sums}</p>}
    </div>
  );
}

/** A disc as it was read back, laid against its image. */
function CopyLine({ report }: { readonly report: DiscReportRecord }) {
  const { copy, sectors, isSame, audioDiffers, firstDifference, subcodeDiffers, codes, textIsSame } = report;
  const Icon = isSame ? CircleCheck : CircleX;
  const faults = [
    audioDiffers > 0
      ? `the audio of ${count(audioDiffers, 'sector')} differs, first at ${formatMsf(frames(firstDifference ?? 0))}`
      : '',
    subcodeDiffers > 0 ? `the subcode of ${count(subcodeDiffers, 'sector')} differs` : '',
    textIsSame ? '' : 'the CD-Text differs',
    ...codes,
  ].filter(Boolean);
  return (
    <p className={isSame ? 'copy' : 'copy failed'}>
      <Icon size={16} aria-hidden /> Copy {copy}:{' '}
      {isSame
        ? `${count(sectors, 'sector')} read back with subcode and CD-Text; all match the image.`
        : `${faults.join('; ')}.`}
    </p>
  );
}

function Words({ receipt }: { readonly receipt: Readonly<Record<string, unknown>> }) {
  const plant = plantReceipt.safeParse(receipt);
  if (plant.success)
    return (
      <>
        <p>Order {plant.data.number}. Read by the plant:</p>
        {plant.data.discs.map(({ title, upc, leadOut, marks }, i) => (
          <table
            key={i}
            className="table receipt-table"
            aria-label={`Marks of ${title || 'the disc'} as read by the plant`}
          >
            <caption>
              {title || 'Untitled'} {upc && `· ${upc}`} · lead-out {leadOut}
            </caption>
            <thead>
              <tr>
                <th className="num">Track</th>
                <th className="num">Index</th>
                <th className="num">At</th>
                <th>ISRC</th>
                <th>Title</th>
              </tr>
            </thead>
            <tbody>
              {marks.map(({ track, index, at, isrc, title: words }) => (
                <tr key={`${track}.${index}`}>
                  <td className="num">{track}</td>
                  <td className="num">{String(index).padStart(2, '0')}</td>
                  <td className="num">{at}</td>
                  <td>{isrc}</td>
                  <td>{words}</td>
                </tr>
              ))}
            </tbody>
          </table>
        ))}
      </>
    );
  const service = serviceReceipt.safeParse(receipt);
  if (service.success)
    return (
      <table className="table receipt-table" aria-label="Playback loudness of each file">
        <caption>
          The service plays at {formatDb(service.data.targetLufs)} LUFS and never raises a file above its peak
          limit.
        </caption>
        <thead>
          <tr>
            <th>Title</th>
            <th className="num">Loudness</th>
            <th className="num">Gain</th>
            <th className="num">Playback</th>
          </tr>
        </thead>
        <tbody>
          {service.data.tracks.map(({ title, lufs, gainDb, playsAtLufs }, i) => (
            <tr key={i}>
              <td>{title}</td>
              <td className="num">{formatDb(lufs)} LUFS</td>
              <td className="num">{formatDb(gainDb)} dB</td>
              <td className="num">{formatDb(playsAtLufs)} LUFS</td>
            </tr>
          ))}
        </tbody>
      </table>
    );
  return (
    <dl className="receipt-words">
      {Object.entries(receipt)
        .filter(([, value]) => ['string', 'number'].includes(typeof value))
        .map(([name, value]) => (
          <div key={name}>
            <dt>{name}</dt>
            <dd>{String(value)}</dd>
          </div>
        ))}
    </dl>
  );
}
