import createCache from '@emotion/cache';
import { CacheProvider } from '@emotion/react';
import { ThemeProvider } from '@mui/material/styles';
import { QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { RouterProvider } from 'react-router';
import '@fontsource-variable/hanken-grotesk/wght.css';
import '@fontsource-variable/newsreader/wght.css';
import '@fontsource/commit-mono/400.css';
import { queryClient } from './api/queryClient.ts';
import { router } from './router.tsx';
import { sessionQuery } from './session/useSession.ts';
import { STYLE_NONCE } from './theme/nonce.ts';
import { theme } from './theme/theme.ts';
import './theme/tokens.css';
import './theme/print.css';

const root = document.getElementById('root');
if (!root) throw new Error('the page has no place for the application');

// Fetched while the screen is still loading; the screen shows errors.
queryClient.query(sessionQuery).catch(() => undefined);

createRoot(root).render(
  <StrictMode>
    <CacheProvider value={createCache({ key: 'u', nonce: STYLE_NONCE, prepend: true })}>
      <ThemeProvider theme={theme}>
        <QueryClientProvider client={queryClient}>
          {/* What is pressed shows at once: filters and switches stand in the address. */}
          <RouterProvider router={router} useTransitions={false} />
        </QueryClientProvider>
      </ThemeProvider>
    </CacheProvider>
  </StrictMode>,
);
