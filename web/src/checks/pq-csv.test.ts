import { frames } from '@oiseau/audio/time';
import type { PqSheet } from '@oiseau/formats/disc';
import { expect, it } from 'vitest';
import { pqCsv } from './pq-csv.js';

it('the PQ sheet as CSV holds no formula, whatever a title says', () => {
  const track = {
    ...{
      number: 1,
      start: frames(150),
      length: frames(750),
      pause: null,
      pauseLength: frames(0),
      indexes: [],
    },
    ...{ title: '=HYPERLINK("http://x")', performer: '@SUM(A1)', isrc: 'ZZ-OIS-26-00001' },
    ...{ copyPermitted: false, preEmphasis: false },
  };
  const csv = pqCsv({ tracks: [track], leadOut: frames(900) } as unknown as PqSheet);
  expect(csv).toBe(
    '\uFEFFTrack,Index,Start,Length,Title,Performer,ISRC,Flags\r\n' +
      `1,01,00:02:00,00:10:00,"'=HYPERLINK(""http://x"")",'@SUM(A1),ZZ-OIS-26-00001,\r\n` +
      'AA,01,00:12:00,,lead-out,,,\r\n',
  );
});
