import { addressOf, CONTRACT } from '@oiseau/api';
import {
  loudnessFigures,
  loudnessOrder,
  loudnessPaper,
  loudnessQuestions,
  loudnessRows,
} from '@oiseau/formats/papers';
import { nameOfSound } from '@oiseau/album/measured';
import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { useAlbum } from '../album/AlbumContext.js';
import { answersQuery, figuresIn } from '../api/answers.js';
import { askSounds } from '../workspace/measurements.js';
import { PaperSheet } from './PaperSheet.js';
import { t } from '../ui/messages.js';

/** Loudness of every track and part before and after treatment; measured on the server while the page is open. */
export function LoudnessReport() {
  const { id, album, parts, edition } = useAlbum('id', 'album', 'parts', 'edition');
  const questions = useMemo(() => loudnessQuestions(parts), [parts]);
  const { data: answers } = useQuery(answersQuery('loudness', id, questions, nameOfSound, askSounds));
  const figures = loudnessFigures(parts, figuresIn(answers));
  const order = loudnessOrder(album, parts);
  return (
    <PaperSheet
      paper={loudnessPaper(order, figures ?? [])}
      rows={figures && loudnessRows(order, figures)}
      pdf={(language) => addressOf(CONTRACT.loudnessReport, { params: { id }, query: { language, edition } })}
      back={['checks', t('Checks')]}
      pending={figures ? undefined : t('Measuring the treated album …')}
    />
  );
}
