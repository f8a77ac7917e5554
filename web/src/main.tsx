import '@fontsource-variable/inter';
import '@fontsource-variable/source-serif-4';
// In this order: what stands in a later file may narrow what stands in an earlier one.
import './look/look.css';
import './look/judging.css';
import './look/tables.css';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter } from 'react-router';
import { App } from './App';
import { Refusal, UNREACHED } from './api/client';
import { eventsFlow } from './api/useEvents';
import { Boundary } from './frame/Boundary';

const queries = new QueryClient({
  defaultOptions: {
    // Another analyst's verdict or a host's report is told by an event; the clock changes something now and then. While nothing is told, it is asked for.
    queries: {
      refetchInterval: () => (eventsFlow() ? 60_000 : 3_000),
      staleTime: 2_000,
      retry: (count, error) => error instanceof Refusal && error.status === UNREACHED && count < 2,
    },
  },
});

const root = document.getElementById('root');
if (root) {
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <BrowserRouter>
          <Boundary what="Lucid Verdict">
            <App />
          </Boundary>
        </BrowserRouter>
      </QueryClientProvider>
    </StrictMode>,
  );
}
