import '@fontsource-variable/figtree';
import '@fontsource-variable/spline-sans-mono';
import '@mantine/core/styles.css';
import './styles.css';
import { MantineProvider } from '@mantine/core';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { App } from './App';
import { theme } from './theme';

const queries = new QueryClient({ defaultOptions: { queries: { retry: 1, refetchOnWindowFocus: false } } });
const root = document.getElementById('root');
if (root) {
  createRoot(root).render(
    <StrictMode>
      <MantineProvider theme={theme} defaultColorScheme="auto">
        <QueryClientProvider client={queries}>
          <App />
        </QueryClientProvider>
      </MantineProvider>
    </StrictMode>,
  );
}
