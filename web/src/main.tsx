import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { ApiError, TOOK_TOO_LONG } from './api/client';
import { App } from './app';
import './styles.css';
import { applyTheme } from './ui/theme';

applyTheme();

const TOO_MANY = 429;

/** Where too much is under way, a place is free soon; what was wrongly asked stays wrong, and what took too long would again. */
function isWorthAnother(count: number, error: Error): boolean {
  if (!(error instanceof ApiError)) return count < 2;
  if (error.status === TOOK_TOO_LONG) return false;
  return error.status === TOO_MANY ? count < 4 : (error.status < 400 || error.status >= 500) && count < 2;
}

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      retry: isWorthAnother,
      refetchOnWindowFocus: true,
      staleTime: 1_000,
    },
  },
});

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <App />
    </QueryClientProvider>
  </StrictMode>,
);
