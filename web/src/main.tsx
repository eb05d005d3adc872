import '@fontsource-variable/source-sans-3';
import '@fontsource-variable/source-serif-4';
import './theme/theme.scss';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter } from 'react-router';
import { App } from './App.js';
import { takeFirstAnswers } from './frame/first-answers.js';
import { keepPage } from './ui/keep-page.js';
import { NoticeProvider } from './ui/Notices.js';

keepPage();
const queries = new QueryClient({ defaultOptions: { queries: { retry: 1, refetchOnWindowFocus: false } } });
const root = document.getElementById('root');
if (!root) throw new Error('index.html has no root');
await takeFirstAnswers(queries);
createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <NoticeProvider>
        <BrowserRouter>
          <App />
        </BrowserRouter>
      </NoticeProvider>
    </QueryClientProvider>
  </StrictMode>,
);
