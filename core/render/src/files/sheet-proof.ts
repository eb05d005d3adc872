import { encodeCsv, readCsv, type Paper } from '@oiseau/formats/disc';
import type { ByteSource } from '@oiseau/audio/pcm';
import type { RenderPorts } from '../ports.js';
import type { ProofTest } from '../proof-file.js';
import { equal } from './tests.js';

/** A sheet in the form in which it is kept. */
export interface SheetForms {
  readonly rows: readonly (readonly string[])[];
  readonly paper: Paper;
}

/** Both forms of a sheet from one set of figures. */
export const sheetBytes = async (
  form: 'csv' | 'pdf',
  { rows, paper }: SheetForms,
  ports: Pick<RenderPorts, 'paper'>,
): Promise<Uint8Array> => (form === 'csv' ? encodeCsv(rows) : ports.paper(paper));

const joined = (rows: readonly (readonly string[])[]): string =>
  rows
    .filter((cells) => cells.join('') !== '')
    .map((cells) => cells.join(' / '))
    .join(' | ');

/** A sheet read back: a table cell by cell, one for print by its bytes, which are the same for the same sheet. */
export async function proveSheet(
  form: 'csv' | 'pdf',
  { rows, paper }: SheetForms,
  source: ByteSource,
  ports: RenderPorts,
): Promise<ProofTest[]> {
  const bytes = await source.read(0, source.size);
  if (form === 'csv') {
    const text = new TextDecoder('utf-8', { fatal: true }).decode(bytes);
    return [equal('text', joined(readCsv(text)), joined(rows))];
  }
  const digest = (of: Uint8Array): string => {
    const sum = ports.crc32();
    sum.update(of);
    return sum.digest();
  };
  return [equal('text', digest(bytes), digest(await ports.paper(paper)))];
}
