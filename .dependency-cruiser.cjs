/** Who may import whom; the table stands in docs/architecture.md. */
module.exports = {
  forbidden: [
    {
      name: 'no-circles',
      severity: 'error',
      from: {},
      to: { circular: true },
    },
    {
      name: 'core-knows-nobody',
      comment: 'core/ is pure: no interface, no server, no input or output',
      severity: 'error',
      from: { path: '^core/', pathNot: '\\.test\\.ts$' },
      to: {
        pathNot: [
          '^core/',
          'node_modules/(zod|temporal-polyfill|temporal-utils|jstat|jsep|re2js|sms-segments-calculator|@noble/hashes)/',
        ],
      },
    },
    {
      name: 'server-without-interface',
      comment: 'only the composition in server/app.ts and pages.ts puts the server into the pages',
      severity: 'error',
      from: { path: '^server/', pathNot: '^server/(app|pages|virtual\\.d)\\.ts$|\\.test\\.ts$' },
      to: { path: ['^app/', 'node_modules/react'] },
    },
    {
      name: 'app-through-the-door',
      comment:
        'pages reach the server through app/door/dowser.server.ts, and share its plain data through app/door/dowser.shared.ts',
      severity: 'error',
      from: { path: '^app/', pathNot: '^app/door/dowser\\.(server|shared)\\.ts$' },
      to: { path: ['^server/', 'node_modules/better-sqlite3'], dependencyTypesNot: ['type-only'] },
    },
    {
      name: 'app-says-what-it-knows',
      comment: 'what pages say of studies comes from app/analyses/words.ts, which knows the kinds of study',
      severity: 'error',
      from: { path: '^app/', pathNot: '^app/(analyses/(words|registry)|study/breakdowns)\\.ts$|\\.test\\.ts$' },
      to: { path: '^core/analyses/(inWords|peopleWords|kinds)\\.ts$', dependencyTypesNot: ['type-only'] },
    },
    {
      name: 'schemas-on-the-server',
      comment:
        'rules and studies within others are checked by schemas that only the server and the question field know',
      severity: 'error',
      from: { path: '^app/', pathNot: '^app/routes/|\\.server\\.ts$|\\.test\\.ts$' },
      to: { path: '^core/.*/(ruleSchema|studySchema)\\.ts$', dependencyTypesNot: ['type-only'] },
    },
    {
      name: 'demo-like-anybody',
      comment: 'the demo sends its events through the loader, and knows nothing further in',
      severity: 'error',
      from: { path: '^demo/', pathNot: '\\.test\\.ts$' },
      to: { path: '^(app/|server/(?!loader\\.ts|settings\\.ts))', dependencyTypesNot: ['type-only'] },
    },
    {
      name: 'nobody-imports-tests',
      severity: 'error',
      from: { path: '^(app|core|server|demo)/', pathNot: '\\.test\\.ts$' },
      to: { path: '^(tests|bench)/' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: { extensions: ['.ts', '.tsx', '.js', '.mjs', '.css'] },
  },
}
