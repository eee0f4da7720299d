import react from '@vitejs/plugin-react';
import { defineConfig, type ProxyOptions } from 'vite';

const service = 'http://127.0.0.1:4180';

/** The service answers its own pages only: what comes through here says it is one. */
const proxy: ProxyOptions = { target: service, changeOrigin: true, headers: { origin: service } };

export default defineConfig({
  plugins: [react()],
  build: { chunkSizeWarningLimit: 1200 },
  server: { proxy: { '/api': proxy, '/fonts': proxy } },
});
