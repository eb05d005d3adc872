import { plantReceipt, serviceReceipt, type DiscReportRecord, type HandoverRecord } from '@oiseau/api';
import { formatMsf, frames } from '@oiseau/audio/time';
import { CircleCheck, CircleX } from 'lucide-react';
import { formatDb } from '../ui/format.js';
import { t } from '../ui/messages.js';

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
      {full && sums && <p className="sum">{t('Checksum of the shipment: {checksum}', { checksum: sums })}</p>}
    </div>
  );
}

/** A disc as it was read back, laid against its image. */
function CopyLine({ report }: { readonly report: DiscReportRecord }) {
  const { copy, sectors, isSame, audioDiffers, firstDifference, subcodeDiffers, codes, textIsSame } = report;
  const Icon = isSame ? CircleCheck : CircleX;
  const faults = [
    audioDiffers > 0
      ? t('the audio of {sectors, plural, one {# sector} other {# sectors}} differs, first at {at}', {
          sectors: audioDiffers,
          at: formatMsf(frames(firstDifference ?? 0)),
        })
      : '',
    subcodeDiffers > 0
      ? t('the subcode of {sectors, plural, one {# sector} other {# sectors}} differs', {
          sectors: subcodeDiffers,
        })
      : '',
    textIsSame ? '' : t('the CD-Text differs'),
    ...codes,
  ].filter(Boolean);
  return (
    <p className={isSame ? 'copy' : 'copy failed'}>
      <Icon size={16} aria-hidden />{' '}
      {t('Copy {copy}: {result}', {
        copy,
        result: isSame
          ? t(
              '{sectors, plural, one {# sector} other {# sectors}} read back with subcode and CD-Text; all match the image.',
              { sectors },
            )
          : `${faults.join('; ')}.`,
      })}
    </p>
  );
}

function Words({ receipt }: { readonly receipt: Readonly<Record<string, unknown>> }) {
  const plant = plantReceipt.safeParse(receipt);
  if (plant.success)
    return (
      <>
        <p>{t('Order {number}. Read by the plant:', { number: plant.data.number })}</p>
        {plant.data.discs.map(({ title, upc, leadOut, marks }, i) => (
          <table
            key={i}
            className="table receipt-table"
            aria-label={t('Marks of {title} as read by the plant', { title: title || t('the disc') })}
          >
            <caption>
              {title || t('Untitled')} {upc && `· ${upc}`} {t('· lead-out {leadOut}', { leadOut })}
            </caption>
            <thead>
              <tr>
                <th className="num">{t('Track')}</th>
                <th className="num">{t('Index')}</th>
                <th className="num">{t('At')}</th>
                <th>ISRC</th>
                <th>{t('Title')}</th>
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
      <table className="table receipt-table" aria-label={t('Playback loudness of each file')}>
        <caption>
          {t('The service plays at {level} LUFS and never raises a file above its peak limit.', {
            level: formatDb(service.data.targetLufs),
          })}
        </caption>
        <thead>
          <tr>
            <th>{t('Title')}</th>
            <th className="num">{t('Loudness')}</th>
            <th className="num">{t('Gain')}</th>
            <th className="num">{t('Playback')}</th>
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
