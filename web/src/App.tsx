import { lazy, Suspense, type ComponentType } from 'react';
import { Navigate, Outlet, Route, Routes } from 'react-router';
import { Allowed } from './access/Allowed.js';
import { Gate } from './access/Gate.js';
import { AlbumPage } from './frame/AlbumPage.js';
import { NothingHere, ViewBoundary, ViewNotLoaded } from './frame/BrokenView.js';
import { SequenceView } from './sequence/SequenceView.js';

/** A view that is loaded when it is opened: other views don't wait for it. */
const later = <Name extends string>(load: () => Promise<Record<Name, ComponentType>>, name: Name) =>
  lazy(async () => {
    const module = await load().catch((cause: unknown) => {
      throw new ViewNotLoaded(cause);
    });
    const view: ComponentType = module[name];
    return { default: view };
  });

const ChecksView = later(() => import('./checks/ChecksView.js'), 'ChecksView');
const MastersView = later(() => import('./masters/MastersView.js'), 'MastersView');
const ShelfView = later(() => import('./shelf/ShelfView.js'), 'ShelfView');
const PqSheetView = later(() => import('./checks/PqSheetView.js'), 'PqSheetView');
const CutPage = later(() => import('./cutting/CutPage.js'), 'CutPage');
const HandoverView = later(() => import('./handover/HandoverView.js'), 'HandoverView');
const ImagePage = later(() => import('./images/ImagePage.js'), 'ImagePage');
const StoragePage = later(() => import('./storage/StoragePage.js'), 'StoragePage');
const AlternatesPage = later(() => import('./masters/AlternatesPage.js'), 'AlternatesPage');
const MasterPage = later(() => import('./masters/MasterPage.js'), 'MasterPage');
const ProofView = later(() => import('./proof/ProofView.js'), 'ProofView');
const LoudnessReport = later(() => import('./checks/LoudnessReport.js'), 'LoudnessReport');
const LabelCopyView = later(() => import('./sleeve/LabelCopyView.js'), 'LabelCopyView');
const RenderView = later(() => import('./render/RenderView.js'), 'RenderView');
const SoundView = later(() => import('./sound/SoundView.js'), 'SoundView');
const SleeveView = later(() => import('./sleeve/SleeveView.js'), 'SleeveView');
const TrimPage = later(() => import('./trim/TrimPage.js'), 'TrimPage');
const ListenerPage = later(() => import('./listener/ListenerPage.js'), 'ListenerPage');
const EventsPage = later(() => import('./access/EventsPage.js'), 'EventsPage');
const EditionsView = later(() => import('./editions/EditionsView.js'), 'EditionsView');
const AlbumEventsView = later(() => import('./frame/AlbumEventsView.js'), 'AlbumEventsView');

export function App() {
  return (
    <ViewBoundary>
      <Suspense>
        <Routes>
          {/* A listener has no key, and sees nothing else. */}
          <Route path="/listen/:id" element={<ListenerPage />} />
          <Route
            element={
              <Gate>
                <Outlet />
              </Gate>
            }
          >
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
                <Route path="checks/loudness" element={<LoudnessReport />} />
                <Route path="sleeve/label-copy" element={<LabelCopyView />} />
                <Route path="render" element={<RenderView />} />
                <Route path="handover" element={<HandoverView />} />
                <Route path="editions" element={<EditionsView />} />
                <Route path="events" element={<AlbumEventsView />} />
              </Route>
              <Route path="proof" element={<ProofView />} />
              <Route path="*" element={<NothingHere />} />
            </Route>
            <Route element={<Allowed right="work" instead="/" />}>
              <Route path="/images/:id" element={<ImagePage />} />
            </Route>
            <Route element={<Allowed right="keys" instead="/" />}>
              <Route path="/events" element={<EventsPage />} />
              <Route path="/keeping" element={<StoragePage />} />
            </Route>
            <Route path="*" element={<NothingHere />} />
          </Route>
        </Routes>
      </Suspense>
    </ViewBoundary>
  );
}
