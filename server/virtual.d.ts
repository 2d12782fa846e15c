declare module 'virtual:react-router/server-build' {
  // eslint-disable-next-line @typescript-eslint/consistent-type-imports -- a module declaration cannot import otherwise
  const build: import('react-router').ServerBuild
  export = build
}
