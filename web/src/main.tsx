import '@fontsource-variable/figtree';
import '@fontsource-variable/spline-sans-mono';
import '@mantine/core/styles.layer.css';
import '@mantine/notifications/styles.layer.css';
import './styles.css';
import { MantineProvider } from '@mantine/core';
import { Notifications } from '@mantine/notifications';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { App } from './App';
import { AGAIN, Unreachable } from './core/client';
import { Guard } from './frame/Guard';
import { watchInteraction } from './parts/interaction';
import { theme } from './theme';

// The service may be on this very machine: whether the browser thinks it is online says nothing about it.
const always = { networkMode: 'always' } as const;
// What could not be reached is tried again, so that nobody has to find out when the service is back.
const refetchInterval = ({ state }: { state: { error: unknown } }) =>
  state.error instanceof Unreachable ? AGAIN : (false as const);
const queries = new QueryClient({
  defaultOptions: {
    queries: { retry: 1, refetchOnWindowFocus: false, refetchInterval, ...always },
    mutations: always,
  },
});
watchInteraction();
const root = document.getElementById('root');
if (root) {
  createRoot(root).render(
    <StrictMode>
      <MantineProvider theme={theme} defaultColorScheme="auto">
        <Notifications position="bottom-center" limit={3} />
        <QueryClientProvider client={queries}>
          <Guard>
            <App />
          </Guard>
        </QueryClientProvider>
      </MantineProvider>
    </StrictMode>,
  );
}
