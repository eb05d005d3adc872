import {
  MASTER_EXTENSIONS,
  masterTicks,
  formatClock,
  appendTracks,
  newTrack,
  titleFromFileName,
  isInteger,
  type Silhouette,
} from '@oiseau/core';
import { CircleAlert, FilePlus2 } from 'lucide-react';
import { useCallback } from 'react';
import { Button, ProgressBar, Table } from 'react-bootstrap';
import { useDropzone } from 'react-dropzone';
import { useAlbum } from '../album/AlbumContext.js';
import { useSilhouettes } from '../api/queries.js';
import type { MasterRecord } from '../api/types.js';
import { useCanvas, type Draw } from '../ui/canvas.js';
import { count, formatBytes, formatDb, formatRate } from '../ui/format.js';
import { drawSilhouette } from '../ui/silhouette-drawing.js';
import { UploadList } from './UploadList.js';
import { useUploads } from './UploadContext.js';

/** The files brought in, with what was measured of each. */
export function MastersView() {
  const { masters } = useAlbum();
  const { queue, uploads } = useUploads();
  const silhouettes = useSilhouettes(masters);
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    onDrop: (files) => queue.add(files),
    noClick: true,
    noKeyboard: true,
  });
  const empty = masters.length === 0 && uploads.length === 0;
  return (
    <div {...getRootProps({ className: isDragActive ? 'masters dropping' : 'masters' })}>
      <input {...getInputProps({ 'aria-label': 'Master files' })} />
      <div className="view-head">
        <h2>Masters</h2>
        <span className="text-secondary">{masters.length > 0 && count(masters.length, 'file')}</span>
        <span className="flex-grow-1" />
        {!empty && (
          <Button variant="outline-primary" onClick={open}>
            <FilePlus2 size={16} aria-hidden /> Bring in masters
          </Button>
        )}
      </div>
      {empty && (
        <div className="empty drop-target">
          <p className="empty-lead">Drop the finished masters here.</p>
          <p>
            Many at once, named in the order of the album: each becomes a track, titled from its file name,
            two seconds apart. WAV files of 16, 24 or 32 bit or float, stereo ({MASTER_EXTENSIONS.join(', ')}
            ).
          </p>
          <Button onClick={open}>Choose files</Button>
        </div>
      )}
      <UploadList />
      {masters.length > 0 && (
        <Table className="master-table" hover={false}>
          <thead>
            <tr>
              <th>File</th>
              <th className="shape">Silhouette</th>
              <th className="num">Rate</th>
              <th className="num">Word</th>
              <th className="num">Length</th>
              <th className="num">Sample peak</th>
              <th className="num">Loudness</th>
              <th>Plays as</th>
            </tr>
          </thead>
          <tbody>
            {masters.map((master) => (
              <MasterRow key={master.sha256} master={master} outline={silhouettes.get(master.sha256)} />
            ))}
          </tbody>
        </Table>
      )}
      {isDragActive && <div className="drop-hint">Let go to bring them in</div>}
    </div>
  );
}

function MasterRow({ master, outline }: { master: MasterRecord; outline: Silhouette | undefined }) {
  const { album, edit } = useAlbum();
  const { sha256, name, info, measurement, job, bytes } = master;
  const places = album.tracks.flatMap((track, i) => (track.master === sha256 ? [i + 1] : []));
  const use = (): void =>
    edit(`track from ${name}`, (before) =>
      appendTracks(before, [newTrack(crypto.randomUUID(), sha256, titleFromFileName(name))]),
    );
  return (
    <tr>
      <th scope="row">
        <span className="file-name" title={name}>
          {name}
        </span>
        <small className="text-secondary">{formatBytes(bytes)}</small>
      </th>
      <td className="shape">
        {outline ? <Outline outline={outline} name={name} /> : <Measuring job={job} />}
      </td>
      <td className="num">{formatRate(info.rate)}</td>
      <td className="num">{isInteger(info.format) ? `${info.validBits} bit` : `${info.validBits} float`}</td>
      <td className="num">{formatClock(masterTicks(info), 1)}</td>
      <td className="num">
        {measurement ? `${formatDb(measurement.samplePeakDbfs, 2)} dBFS` : '–'}
        {measurement && measurement.clippedRuns > 0 && (
          <span className="doubt">
            <CircleAlert size={14} aria-hidden /> clips {count(measurement.clippedRuns, 'time')}
          </span>
        )}
      </td>
      <td className="num">{measurement ? `${formatDb(measurement.integratedLufs)} LUFS` : '–'}</td>
      <td>
        {places.length > 0 ? (
          `track ${places.join(', ')}`
        ) : (
          <Button size="sm" variant="link" className="p-0" onClick={use}>
            add as a track
          </Button>
        )}
      </td>
    </tr>
  );
}

function Outline({ outline, name }: { outline: Silhouette; name: string }) {
  const draw = useCallback<Draw>(
    (context, width, height, { ink, soft, rule }) => {
      const stretch = { x: 0, width, ground: height - 1, height: height - 2, from: 0, to: outline.length };
      context.fillStyle = soft;
      drawSilhouette(context, outline, stretch, 'peak');
      context.fillStyle = ink;
      drawSilhouette(context, outline, stretch, 'rms');
      context.fillStyle = rule;
      context.fillRect(0, height - 1, width, 1);
    },
    [outline],
  );
  return <canvas ref={useCanvas(draw)} className="outline" role="img" aria-label={`Silhouette of ${name}`} />;
}

function Measuring({ job }: { job: MasterRecord['job'] | undefined }) {
  if (job?.state === 'failed') return <span className="text-danger">{job.message}</span>;
  return (
    <div className="measuring">
      <ProgressBar now={100 * (job?.share ?? 0)} aria-label="Measuring" />
      <small className="text-secondary">
        {job?.state === 'running' ? 'measuring' : 'waits to be measured'}
      </small>
    </div>
  );
}
