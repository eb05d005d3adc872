import '@fontsource-variable/source-sans-3';
import '@fontsource-variable/source-serif-4';
import './theme/theme.scss';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter } from 'react-router';
import { Gate } from './access/Gate.js';
import { App } from './App.js';
import { NoticeProvider } from './ui/Notices.js';

const queries = new QueryClient({ defaultOptions: { queries: { retry: 1, refetchOnWindowFocus: false } } });
const root = document.getElementById('root');
if (!root) throw new Error('index.html has no root');
createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <NoticeProvider>
        <BrowserRouter>
          <Gate>
            <App />
          </Gate>
        </BrowserRouter>
      </NoticeProvider>
    </QueryClientProvider>
  </StrictMode>,
);
