import { reactRouter } from '@react-router/dev/vite'
import { defineConfig } from 'vite'

export default defineConfig({
  plugins: [reactRouter()],
  environments: {
    ssr: {
      build: {
        rollupOptions: {
          // The threads and the command-line tools are entries of the server's build, so that running needs no compiler.
          input: {
            app: './server/app.ts',
            ingest: './server/ingest/ingest.worker.ts',
            engine: './server/engine/engine.worker.ts',
            scan: './server/engine/scan.worker.ts',
            export: './server/export/export.worker.ts',
            files: './server/files/files.worker.ts',
            outreach: './server/outreach/outreach.worker.ts',
            standIn: './server/outreach/standIns/standIn.worker.ts',
            import: './server/import.cli.ts',
            check: './server/check.cli.ts',
            demo: './demo/demo.cli.ts',
            simulate: './demo/simulate.cli.ts',
            pour: './demo/pour.cli.ts',
          },
        },
      },
    },
  },
  // Small fonts as data: addresses would be against the content security policy.
  build: {
    assetsInlineLimit: 0,
    // What a piece that is loaded later imports is mostly there already: a list of it for each costs every page 2 KB.
    modulePreload: {
      resolveDependencies: (_file, deps, { hostType }) =>
        hostType === 'js' ? deps.filter((name) => name.endsWith('.css')) : deps,
    },
  },
  optimizeDeps: { entries: ['app/**/*.tsx'], exclude: ['better-sqlite3'] },
})
