import { setTimeout as sleep } from 'node:timers/promises';
import { titlesOf } from './readers/cd-text.js';
import { msf } from './readers/codes.js';
import { readDescription } from './readers/ddp.js';
import type { Disc } from './readers/disc.js';
import type { Receiver, ReceiverParts } from './receiver.js';
import type { Reason, Shipment } from './shipment.js';

/** Folders that hold a disc description: empty for the shipment itself. */
const foldersOf = ({ files }: Shipment): string[] =>
  files.flatMap(({ path }) => (/(?:^|\/)DDPID$/.test(path) ? [path.slice(0, -'DDPID'.length)] : []));

/** What a plant read of a disc: its own table of marks. */
const tableOf = (folder: string, { upc, marks, leadOut, packs }: Disc): Record<string, unknown> => {
  const titles = titlesOf(packs);
  return {
    ...{ folder, upc, leadOut: msf(leadOut), title: titles[0] ?? '' },
    marks: marks.map(({ track, index, at, isrc }) => ({
      ...{ track, index, at: msf(at), isrc: index === 1 ? isrc : '' },
      title: index === 1 ? (titles[track] ?? '') : '',
    })),
  };
};

/** A pressing plant: takes a disc description for each disc, and sends its own table of marks, or refuses with reasons. */
export function plant({ shipments, paceMs, behaviour, isOpen }: ReceiverParts): Receiver {
  const check = async (shipment: Shipment): Promise<Shipment> => {
    const reasons: Reason[] = await shipments.faults(shipment);
    const folders = foldersOf(shipment);
    if (folders.length === 0)
      reasons.push({ code: 'ddpid', message: 'DDPID is missing, so this isn’t a DDP image.' });
    const discs: Record<string, unknown>[] = [];
    if (reasons.length === 0)
      for (const folder of folders) {
        const read = await readDescription(shipments, shipment, folder);
        reasons.push(...read.reasons);
        if (read.disc) discs.push(tableOf(folder, read.disc));
      }
    if (behaviour() === 'refuses')
      reasons.push({
        code: 'glass-master',
        message: 'The glass master could not be cut: track 1 was too bright.',
        track: 1,
      });
    const number = `LW-${shipment.id.slice(0, 6).toUpperCase()}`;
    return reasons.length > 0
      ? { ...shipment, state: 'refused', reasons }
      : { ...shipment, state: 'checked', receipt: { number, discs } };
  };
  return {
    kind: 'plant',
    name: 'Low Water Pressing',
    about: () => ({ takes: ['ddp'] }),
    final: ['refused', 'shipped'],
    work: async (shipment) => {
      let now = shipment;
      while (isOpen()) {
        await sleep(paceMs);
        if (now.state === 'received') now = await check(now);
        else if (now.state === 'checked') now = { ...now, state: 'in-production' };
        else if (now.state === 'in-production') now = { ...now, state: 'shipped' };
        else return;
        await shipments.keep(now);
      }
    },
  };
}
