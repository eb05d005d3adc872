export { Failure } from './errors/failure.js';
export type { FailureOptions, FailureStatus } from './errors/failure.js';
export {
  TICKS_PER_SECOND,
  samples,
  samplesToTicks,
  secondsToTicks,
  ticks,
  ticksToSamples,
  ticksToSeconds,
} from './time/ticks.js';
export type { Frames, Samples, Ticks } from './time/ticks.js';
export {
  FRAMES_PER_SECOND,
  SAMPLES_PER_FRAME,
  TICKS_PER_FRAME,
  ceilToFrame,
  floorToFrame,
  formatMsf,
  frames,
  framesToTicks,
} from './time/frames.js';
export { formatClock, formatRate, parseTime } from './time/timecode.js';
export { intervalLength, isInside } from './time/interval.js';
export type { Interval } from './time/interval.js';
export type { ByteSource } from './pcm/bytes.js';
export { demandFinite } from './pcm/finite.js';
export { isInteger, silence, WORD_BYTES, wordBits } from './pcm/block.js';
export type { Block, PcmSource, WordFormat } from './pcm/block.js';
export { JoinedSource } from './pcm/joined-source.js';
export { decodeWords, encodeWords } from './pcm/words.js';
export {
  boundedText,
  EMBEDDED_FIELDS,
  NO_TEXT,
  readEmbeddedText,
  readEmbeddedWords,
} from './pcm/embedded-text.js';
export type { EmbeddedField, EmbeddedText } from './pcm/embedded-text.js';
export {
  demandMasterName,
  demandStereo,
  codedForm,
  examineMaster,
  isMasterName,
  MASTER_EXTENSIONS,
} from './pcm/master-file.js';
export type { CodedForm } from './pcm/master-file.js';
export { demandChannels, demandRate, pcmFileBytes, PcmFileSource } from './pcm/pcm-file.js';
export type { PcmInfo } from './pcm/pcm-file.js';
export { SAMPLE_RATES } from './pcm/rates.js';
export { AudioRefused } from './pcm/refusal.js';
export { openWav } from './pcm/wav-read.js';
export { wavHeader } from './pcm/wav-write.js';
export { dbToLinear, linearToDb } from './dsp/gain.js';
export { applyFade, FADE_SHAPES, fadeGain } from './dsp/fade.js';
export type { FadeShape } from './dsp/fade.js';
export { nearestZeroCrossing, zeroCrossingIn } from './dsp/zero-crossing.js';
export { DITHER_KINDS, errorDensityDb } from './dsp/dither.js';
export type { DitherKind } from './dsp/dither.js';
export { seedFromText, uniform } from './dsp/random.js';
export { SilhouetteMeter } from './measure/silhouette.js';
export { Meters, readThrough } from './measure/measure.js';
export type { Measurement } from './measure/measure.js';
export { LiveMeters } from './measure/live-meters.js';
export type { LiveReading } from './measure/live-meters.js';
export { loudnessOverTime, LoudnessMeter, integratedLoudness } from './measure/loudness.js';
export { bandwidthOf } from './measure/upper-edge.js';
export { FigureMeters, MasterMeters } from './measure/master-meters.js';
export type { MasterMeasurement } from './measure/master-meters.js';
export { lastTempo } from './measure/tempo.js';
export type { FoundTempo, TempoCertainty } from './measure/tempo.js';
export { measureLineUp } from './measure/line-up.js';
export { Silhouette } from './measure/silhouette.js';
export { soundings } from './measure/sounding.js';
export type { SilenceSettings } from './measure/sounding.js';
export { THIRD_OCTAVES_HZ } from './measure/spectrum.js';
export { TruePeakMeter } from './measure/true-peak.js';
export {
  isUntreated,
  NO_ALBUM_TREATMENT,
  NO_TREATMENT,
  treatmentSchema,
  treatmentWords,
} from './process/treatment.js';
export type { Treatment } from './process/treatment.js';
export { treated } from './process/treated.js';
export { constantOf, pointsOf, rangeOf, valueAt, withPoint } from './process/moving.js';
export type { MovingDb, MovingPoint } from './process/moving.js';
export type { Band } from './process/equaliser-settings.js';
export type { Width } from './process/width-settings.js';
export { MOST_KNEE_DB } from './process/compressor-settings.js';
export type { Compressor } from './process/compressor-settings.js';
export type { Limiter } from './process/limiter-settings.js';
export { responseDb } from './process/response.js';
export {
  lineUpAlternate,
  removeAlternate,
  renameAlternate,
  setAlternate,
  takeAlternates,
} from './album/alternate-edits.js';
export type { AlternateOffer } from './album/alternate-edits.js';
export { offerAlternates } from './album/alternate-offers.js';
export { ALIKE, offerVersions, outlineLikeness, UNALIKE } from './album/version-offers.js';
export type { VersionOffer } from './album/version-offers.js';
export type { OfferedMaster } from './album/alternate-offers.js';
export {
  alternateName,
  alternateNames,
  alternateOf,
  MAIN,
  mastersOfSong,
  mastersPlayed,
  sequenceOfAlternate,
} from './album/alternates.js';
export { lineUpQuestionSchema, lineUpsOf, nameOfLineUp, shiftOf } from './album/line-up.js';
export type { LineUpFigures, LineUpQuestion, LineUpsByName } from './album/line-up.js';
export { nameOfSide, sideQuestion, sideQuestionSchema } from './album/side-sound.js';
export type { SideFigures, SideQuestion, SidesByName } from './album/side-sound.js';
export { albumSchema, hiddenSong, newAlbum, songBefore, songOf, tracksOf } from './album/album.js';
export type { Album } from './album/album.js';
export { newSong, NO_MARKS } from './album/song.js';
export type { Song, SongMarks } from './album/song.js';
export { wholeMaster } from './album/region.js';
export type { Fade, Region } from './album/region.js';
export { soundKey } from './album/sound-key.js';
export {
  LaterDocument,
  albumDocument,
  deliverableDocument,
  readAlbumDocument,
  readDeliverableDocument,
  readTreatmentDocument,
} from './album/stored.js';
export { sameContent, sameValue, takeBack } from './album/revert.js';
export {
  cutsWell,
  MEDIA,
  mediumWords,
  mostOf,
  partName,
  partsOf,
  positionOf,
  trackNumber,
} from './album/parts.js';
export type { Medium, PartSongs } from './album/parts.js';
export {
  beginPart,
  editPart,
  joinPart,
  moveInPart,
  spreadOver,
  spreadSongs,
  withSpread,
} from './album/part-edits.js';
export type { Spread } from './album/part-edits.js';
export { isDisc, layOutAlbum, layOutPart } from './album/part.js';
export type { DiscPart, Part } from './album/part.js';
export { place, songAt } from './album/placement.js';
export type { Placement } from './album/placement.js';
export { masterTicks, outOf } from './album/sequence.js';
export type { MasterFacts, MasterFactsByKey, Sequence, SequencedSong } from './album/sequence.js';
export { compareAlbums } from './album/compare.js';
export { AUDIO_FORMATS, CODINGS, MP3_BITRATES } from './album/coding.js';
export type { AudioFormat, Coding } from './album/coding.js';
export {
  bitrateOf,
  codingOf,
  deliverableSchema,
  ditherOf,
  hasFormat,
  isLossy,
  recordingsOf,
} from './album/deliverable.js';
export type {
  Deliverable,
  ListeningDeliverable,
  PackageDeliverable,
  SoundDeliverable,
} from './album/deliverable.js';
export {
  appendSongs,
  compareNames,
  editMarks,
  editRegion,
  editWords,
  hideFirstTrack,
  moveTracks,
  removeSongs,
  replaceMaster,
  showHidden,
  titleFromFileName,
  editSound,
  selectDeliverable,
} from './album/edit.js';
export {
  AlbumFileError,
  albumFromFile,
  albumToFile,
  describeIssues,
  MOST_ISSUES,
  mastersInFile,
  sumsInFile,
  parseAlbumFile,
} from './album/file.js';
export type { AlbumFile } from './album/file.js';
export { albumFileJsonSchema } from './album/json-schema.js';
export { PATTERN_WORDS, safeFileName, uniqueNames, unknownWords } from './album/name-pattern.js';
export { albumLoudness, limiterForecast, matchedGains } from './album/levels.js';
export type { LimiterForecast, TrackLevel } from './album/levels.js';
export { transitionSpan } from './album/transition.js';
export {
  addIndex,
  crossfade,
  holdFrom,
  setFade,
  setGap,
  setOut,
  setPause,
  setStartMark,
  songAfter,
  startAt,
  trimIn,
  startOnLastBeat,
  waitBars,
} from './album/spacing.js';
export { beatLength, beatsBetween, beginsBar, FASTEST_BPM, SLOWEST_BPM, tempoOfTaps } from './album/tempo.js';
export type { Beat, Tempo } from './album/tempo.js';
export { CD_TEXT_FIELDS, MOST_TEXT, TAG_NAME } from './album/text-fields.js';
export type { CdTextField } from './album/text-fields.js';
export {
  heardFigures,
  measuredSoundSchema,
  nameOfSound,
  partSound,
  songSound,
  soundsOf,
} from './album/measured-sound.js';
export type {
  HeardFigures,
  MeasuredSound,
  SoundFigures,
  SoundFiguresByName,
  TakenFigures,
} from './album/measured-sound.js';
export { loudestMoment, placedMoment } from './album/loudest-moment.js';
export { asItCame, leavingOut, untreated } from './album/as-it-came.js';
export type { StageName } from './album/as-it-came.js';
export { encodersRoomSchema, lowerCeiling } from './album/encoders-room.js';
export type { EncodersRoom, Overshoot, RoomFigures } from './album/encoders-room.js';
export { asTyped, withoutFormula } from './disc/formulas.js';
export { CueSheetError, readCueSheet } from './disc/cue-sheet.js';
export type { CueSheet } from './disc/cue-sheet.js';
export { compareImage } from './disc/compare-image.js';
export { imageOfCue, imageOfDdp } from './disc/disc-image.js';
export type { DiscImage } from './disc/disc-image.js';
export { RAW_SECTOR } from './disc/subcode.js';
export { DiscComparison } from './disc/written-disc.js';
export type { DiscReport, WantedDisc } from './disc/written-disc.js';
export { marksInOrder } from './disc/marks.js';
export { trackMarks } from './disc/track-marks.js';
export { DdpError, readDdp } from './disc/ddp-read.js';
export type { DdpFolder } from './disc/ddp-read.js';
export { eanFault, parseEan } from './disc/ean.js';
export { formatIsrc, isrcRun, nextIsrcNumber, parseIsrc } from './disc/isrc.js';
export { CD_TEXT_GENRES, CD_TEXT_LANGUAGES, cdTextBlocks, cdTextWords } from './disc/cd-text.js';
export type { Paper, PaperRow } from './disc/paper.js';
export { labelCopy, labelPaper, labelRows } from './papers/label-copy.js';
export type { LabelCopy } from './papers/label-copy.js';
export { answerSchema } from './papers/listening-page.js';
export type { Answer } from './papers/listening-page.js';
export { manifestLine } from './papers/manifest.js';
export {
  loudnessFigures,
  loudnessOrder,
  loudnessPaper,
  loudnessQuestions,
  loudnessRows,
} from './papers/loudness-report.js';
export type { LoudnessOrder, PartLoudness } from './papers/loudness-report.js';
export { releaseJsonSchema } from './papers/release.js';
export { encodeCsv } from './disc/csv.js';
export { flagWords, pqPaper, pqSheet, pqText } from './disc/pq-sheet.js';
export type { PqSheet } from './disc/pq-sheet.js';
export { misfits, plainText } from './disc/cd-text-charset.js';
export { MOST_PACKS, packCount } from './disc/cd-text-packs.js';
export { fieldsFromTags } from './pcm/embedded-tags.js';
export { containerTags, id3Container, tagContainer } from './tags/container-tags.js';
export type { ContainerTag, TagContainer } from './tags/container-tags.js';
export type { EmbeddedPicture } from './tags/flac-blocks.js';
export { MP3_FRAME, setMp3Length } from './tags/mp3-info.js';
export { trackTags } from './tags/tag-set.js';
export {
  ALBUM_ROW,
  cellFault,
  cellText,
  hasCell,
  inheritedText,
  TABLE_FIELDS,
  tableRows,
  writeCells,
} from './tags/text-table.js';
export type { CellEdit, TableColumn, TableField, TableRow } from './tags/text-table.js';
export {
  acceptedReason,
  acceptFinding,
  acceptFindings,
  checkAlbum,
  errorsFor,
  placeWords,
} from './checks/check.js';
export { mendOf } from './checks/mend.js';
export { wordDoubt } from './checks/master-doubt-words.js';
export { masterDoubts } from './checks/master-doubts.js';
export type { DoubtSubject, MasterDoubt } from './checks/master-doubts.js';
export type { CheckSubject, CoverFacts, Finding, Severity } from './checks/finding.js';
export { wordFinding } from './checks/words.js';
export {
  changePiece,
  cutAt,
  cutAtMarks,
  cutAtSoundings,
  keepNames,
  joinToPrevious,
  moveCut,
  pieceAt,
  pieceEnd,
  startCutting,
} from './cutting/cutting.js';
export { cutSongs, cutsToLength, framesOfMaster } from './cutting/reading.js';
export type { ReadingSettings } from './cutting/reading.js';
export type { Cutting, Piece } from './cutting/cutting.js';
export { MarkListError, readMarks } from './cutting/mark-list.js';
export { applyCutting } from './cutting/tracks.js';
export type { PieceJoin } from './cutting/tracks.js';
export { suggestTrim } from './cutting/trim.js';
export type { TrimSettings } from './cutting/trim.js';
export { albumFromImage, ImageUnusable } from './cutting/from-image.js';
export { partOfPath } from './render/kinds/kind.js';
export { formWords, kindWords, planDeliverable, SUMS } from './render/kinds/kinds.js';
export { fileWords } from './render/files/files.js';
export { audioOf, deliveredRows, trackOfMoment, tracksInFile } from './render/delivered.js';
export type { DeliveredRow, FilePlace } from './render/delivered.js';
export { audioFiles, expectedSize, planBytes } from './render/planned.js';
export type { Plan, PlannedAudio } from './render/planned.js';
export type {
  AudioStream,
  DigestAlgorithm,
  EncoderOrder,
  FileSink,
  Hasher,
  Progress,
  RenderPorts,
} from './render/ports.js';
export { Programme } from './render/programme.js';
export type { SourcesByKey } from './render/programme.js';
export { PROOF_TESTS, Proving } from './render/proof.js';
export type { Made, Proof, ProofFile, ProofTest } from './render/proof.js';
export { compareProofs, comparisonWords } from './render/compare-proofs.js';
export type { ProofComparison } from './render/compare-proofs.js';
export { untouchedSongs } from './render/untouched.js';
export { renderPlan } from './render/render.js';
export { measureHere, measureMaster, measureStretch } from './measure/stretched-meters.js';
export type { MeasuredState, MeasureOrder, Measurer } from './measure/stretched-meters.js';
export { ReadAhead } from './render/read-ahead.js';
export { StretchMaker, wordBytes } from './render/stretches.js';
export type { ProgrammeOrder, ShortenedStretch, Stretch, Stretches } from './render/stretches.js';
export type { WordsOrder } from './render/stream.js';
export type { RenderInput } from './render/render.js';
export { measureSide } from './render/measure-side.js';
export { measureSound, sequenceOfSound } from './render/measure-sound.js';
export { VERSION } from './version.js';
export { atMost } from './schema/at-most.js';
export { safelyParsed } from './schema/safely-parsed.js';
export { isDeeperThan } from './schema/json-depth.js';
