import { setTimeout as sleep } from 'node:timers/promises';
import { Ajv2020 } from 'ajv/dist/2020.js';
import addFormats from 'ajv-formats';
import schema from '../../docs/release.schema.json' with { type: 'json' };
import { isEan } from './readers/codes.js';
import { pictureOf } from './readers/picture.js';
import { soundOf } from './readers/sound.js';
import type { Receiver, ReceiverParts } from './receiver.js';
import { isPlainPath, sumOf, type Reason, type Shipment, type Shipments } from './shipment.js';

const ajv = new Ajv2020({ allErrors: true });
addFormats.default(ajv);
const fitsSchema = ajv.compile(schema);

/** What the shop reads of `release.json` once the schema holds. */
interface Release {
  readonly revision: number;
  readonly album: {
    upc: string;
    releaseDate: string;
    cover: { path: string; mediaType: string; width: number; height: number };
  };
  readonly parts: readonly {
    readonly tracks: readonly {
      readonly title: string;
      readonly isrc: string;
      readonly audio: { path: string; format: string; rate: number; bits: number; samples: number };
    }[];
  }[];
}

/** Sums of a manifest by path, percent-encoding undone [RFC 8493 2.1.3]; null where a line is none. */
function readManifest(text: string): Map<string, string> | null {
  const sums = new Map<string, string>();
  for (const line of text.split(/\r\n|\r|\n/).filter(Boolean)) {
    const [, sum, path] = /^([0-9a-f]{64})[ \t]+(.+)$/.exec(line) ?? [];
    if (sum === undefined || path === undefined) return null;
    sums.set(path.replaceAll('%0A', '\n').replaceAll('%0D', '\r').replaceAll('%25', '%'), sum);
  }
  return sums;
}

/** What is wrong with a bag [RFC 8493 3]. */
async function bagFaults(shipments: Shipments, shipment: Shipment): Promise<Reason[]> {
  const found: Reason[] = [];
  const fault = (file: string, message: string): void => void found.push({ code: 'bag', message, file });
  const text = async (name: string): Promise<string> =>
    (await shipments.bytes(shipment, name))?.toString('utf8') ?? '';
  if (!/^BagIt-Version: 1\.0\r?\nTag-File-Character-Encoding: UTF-8\r?\n?$/.test(await text('bagit.txt')))
    fault('bagit.txt', 'bagit.txt does not say that this is a bag of version 1.0.');
  const payload = shipment.files.filter(({ path }) => path.startsWith('data/'));
  for (const name of ['manifest-sha256.txt', 'tagmanifest-sha256.txt']) {
    const sums = readManifest(await text(name));
    if (!sums || sums.size === 0) {
      fault(name, `${name} is missing or can’t be read.`);
      continue;
    }
    for (const [path, sum] of sums) {
      const at = isPlainPath(path) ? shipments.named(shipment, path) : undefined;
      if (at === undefined) fault(name, `“${path}” is listed and was not sent.`);
      else if ((await sumOf(at, 'sha256')) !== sum) fault(path, `“${path}” is not what ${name} says.`);
    }
    if (name.startsWith('manifest'))
      for (const { path } of payload) if (!sums.has(path)) fault(path, `“${path}” is not in ${name}.`);
  }
  const oxum = /^Payload-Oxum: (\d+)\.(\d+)$/m.exec(await text('bag-info.txt'));
  const bytes = payload.reduce((sum, file) => sum + file.bytes, 0);
  if (oxum && (Number(oxum[1]) !== bytes || Number(oxum[2]) !== payload.length))
    fault(
      'bag-info.txt',
      `The payload has ${bytes} bytes in ${payload.length} files, not ${oxum[1]} in ${oxum[2]}.`,
    );
  return found;
}

async function releaseFaults(shipments: Shipments, shipment: Shipment, release: Release): Promise<Reason[]> {
  const found: Reason[] = [];
  const fault = (code: string, field: string, message: string, track?: number): void =>
    void found.push({ code, message, field, ...(track === undefined ? {} : { track }) });
  const { upc, cover } = release.album;
  if (!isEan(upc)) fault('upc', 'album.upc', `${upc} isn’t a valid UPC/EAN: its check digit is wrong.`);
  const picture = shipments.named(shipment, `data/${cover.path}`);
  const seen = picture === undefined ? null : await pictureOf(picture);
  if (!seen) fault('cover', 'album.cover', 'The cover is missing or isn’t a JPEG or PNG.');
  else if (
    seen.width !== cover.width ||
    seen.height !== cover.height ||
    seen.colours !== 3 ||
    seen.mediaType !== cover.mediaType
  )
    fault(
      'cover',
      'album.cover',
      `The cover is ${seen.width} × ${seen.height} with ${seen.colours} channels; ${cover.width} × ${cover.height} in RGB is required.`,
    );
  const codes = new Set<string>();
  let number = 0;
  for (const { tracks } of release.parts)
    for (const { title, isrc, audio } of tracks) {
      number++;
      if (codes.has(isrc)) fault('isrc', 'isrc', `“${title}” has the ISRC of another track.`, number);
      codes.add(isrc);
      const at = shipments.named(shipment, `data/${audio.path}`);
      const sound = at === undefined ? null : await soundOf(at);
      if (!sound || sound.form !== audio.format)
        fault('audio', 'audio', `“${audio.path}” is missing or isn’t ${audio.format.toUpperCase()}.`, number);
      else if (sound.rate !== audio.rate || sound.bits !== audio.bits || sound.samples !== audio.samples)
        fault(
          'audio',
          'audio',
          `“${audio.path}” is ${sound.rate} Hz, ${sound.bits} bit, ${sound.samples} samples, which is not what release.json says.`,
          number,
        );
    }
  return found;
}

/** A shop: takes a package, and puts it live or refuses it with reasons. An earlier delivery of a release is replaced by a newer revision only. */
export function shop({ shipments, paceMs, behaviour }: ReceiverParts): Receiver {
  const check = async (shipment: Shipment): Promise<Shipment> => {
    const refuse = (reasons: Reason[]): Shipment => ({ ...shipment, state: 'refused', reasons });
    const arrived = [...(await shipments.faults(shipment)), ...(await bagFaults(shipments, shipment))];
    if (arrived.length > 0) return refuse(arrived);
    let release: Release;
    try {
      const text = (await shipments.bytes(shipment, 'data/release.json'))?.toString('utf8') ?? '';
      const read: unknown = JSON.parse(text);
      if (!fitsSchema(read))
        return refuse(
          (fitsSchema.errors ?? []).map(({ instancePath, message }) => {
            const field = instancePath.slice(1).replaceAll('/', '.');
            const track = /tracks\.(\d+)/.exec(field)?.[1];
            return {
              ...{
                code: 'schema',
                field,
                message: `${field || 'release.json'} ${message ?? 'does not fit'}.`,
              },
              ...(track === undefined ? {} : { track: Number(track) + 1 }),
            };
          }),
        );
      release = read as unknown as Release;
    } catch {
      return refuse([
        { code: 'release', file: 'data/release.json', message: 'release.json is missing or isn’t JSON.' },
      ]);
    }
    const reasons = await releaseFaults(shipments, shipment, release);
    const { revision, album } = release;
    const live = shipments.all().find(({ state, own }) => state === 'live' && own.upc === album.upc);
    if (live && Number(live.own.revision) >= revision)
      reasons.push({
        ...{ code: 'revision', field: 'revision' },
        message: `Revision ${Number(live.own.revision)} of this release is live. Only a newer one can replace it, not revision ${revision}.`,
      });
    if (behaviour() === 'refuses')
      reasons.push({
        code: 'text',
        field: 'parts.0.tracks.0.title',
        track: 1,
        message: 'The title of track 1 is in capitals only.',
      });
    if (reasons.length > 0) return refuse(reasons);
    if (live) await shipments.keep({ ...live, state: 'replaced' });
    const receipt = {
      address: `shop://releases/${album.upc}`,
      revision,
      releaseDate: album.releaseDate,
      replaces: live?.own.revision ?? null,
    };
    return { ...shipment, state: 'live', receipt, own: { upc: album.upc, revision } };
  };
  return {
    kind: 'shop',
    name: 'Samphire Records',
    about: () => ({ takes: ['package'] }),
    final: ['live', 'refused', 'replaced'],
    work: async (shipment) => {
      await sleep(paceMs);
      await shipments.keep(await check(shipment));
    },
  };
}
