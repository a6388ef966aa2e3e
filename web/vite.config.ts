import { defineConfig } from 'vite';

export default defineConfig({
  server: { port: 4151, proxy: { '/api': 'http://127.0.0.1:4150' } },
  build: {
    outDir: '../dist/web',
    emptyOutDir: true,
    target: 'es2022',
    manifest: true,
    rolldownOptions: {
      // Marks for server components, which this app has none of; and what the solver only wants under Node.js.
      onLog: (level, log, pass) => {
        if (log.code !== 'MODULE_LEVEL_DIRECTIVE' && !log.message.includes('"node:module" has been externalized'))
          pass(level, log);
      },
    },
  },
});
