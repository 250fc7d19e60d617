import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { lazy, StrictMode, Suspense } from 'react';
import { createRoot } from 'react-dom/client';
import { ProblemError } from './api/client';
import { App } from './App';
import { theme, wear } from './shell/theme';
import './styles.css';

// whoever holds devices has a page of their own, apart from the console
const MinePage = lazy(() => import('./mine/MinePage').then((m) => ({ default: m.MinePage })));
const mine = location.pathname === '/mine';

/** What the service refuses it refuses again; all else may be a hiccup of the line. */
const retry = (tries: number, error: Error) =>
  tries < 2 && !(error instanceof ProblemError && error.problem.status >= 400 && error.problem.status < 500);

wear(theme());
const queries = new QueryClient({
  defaultOptions: { queries: { refetchOnWindowFocus: false, staleTime: 30_000, retry } },
});
createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      {mine ? (
        <Suspense fallback={null}>
          <MinePage />
        </Suspense>
      ) : (
        <App />
      )}
    </QueryClientProvider>
  </StrictMode>,
);
