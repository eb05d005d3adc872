import { Navigate, Route, Routes } from 'react-router';
import { Allowed } from './access/Allowed.js';
import { EventsPage } from './access/EventsPage.js';
import { AlbumEventsView } from './frame/AlbumEventsView.js';
import { AlbumPage } from './frame/AlbumPage.js';
import { ChecksView } from './checks/ChecksView.js';
import { PqSheetView } from './checks/PqSheetView.js';
import { CutPage } from './cutting/CutPage.js';
import { ImagePage } from './images/ImagePage.js';
import { KeepingPage } from './keeping/KeepingPage.js';
import { AlternatesPage } from './masters/AlternatesPage.js';
import { MasterPage } from './masters/MasterPage.js';
import { MastersView } from './masters/MastersView.js';
import { ProofView } from './proof/ProofView.js';
import { RenderView } from './render/RenderView.js';
import { SequenceView } from './sequence/SequenceView.js';
import { ShelfView } from './shelf/ShelfView.js';
import { SoundView } from './sound/SoundView.js';
import { SleeveView } from './sleeve/SleeveView.js';
import { TrimPage } from './trim/TrimPage.js';

export function App() {
  return (
    <Routes>
      <Route path="/" element={<ShelfView />} />
      <Route path="/albums/:id" element={<AlbumPage />}>
        <Route index element={<Navigate to="sequence" replace />} />
        <Route element={<Allowed right="work" instead="proof" />}>
          <Route path="masters" element={<MastersView />} />
          <Route path="masters/trim" element={<TrimPage />} />
          <Route path="masters/alternates" element={<AlternatesPage />} />
          <Route path="masters/:sha256" element={<MasterPage />} />
          <Route path="masters/:sha256/cut" element={<CutPage />} />
          <Route path="sequence" element={<SequenceView />} />
          <Route path="sound" element={<SoundView />} />
          <Route path="sleeve" element={<SleeveView />} />
          <Route path="checks" element={<ChecksView />} />
          <Route path="checks/pq-sheet" element={<PqSheetView />} />
          <Route path="render" element={<RenderView />} />
          <Route path="events" element={<AlbumEventsView />} />
        </Route>
        <Route path="proof" element={<ProofView />} />
      </Route>
      <Route element={<Allowed right="work" instead="/" />}>
        <Route path="/images/:id" element={<ImagePage />} />
      </Route>
      <Route element={<Allowed right="keys" instead="/" />}>
        <Route path="/events" element={<EventsPage />} />
        <Route path="/keeping" element={<KeepingPage />} />
      </Route>
      <Route path="*" element={<Navigate to="/" replace />} />
    </Routes>
  );
}
