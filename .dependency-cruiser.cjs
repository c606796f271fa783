/* A floor imports only from floors below it (docs/architecture.md). */
const floors = ['core', 'contract', 'standins', 'server', 'visitor', 'demo', 'bin']

/** A rule: files of `floor` reach no floor named in `above`. */
const mayNotReach = (floor, above) => ({
  name: `${floor}-looks-only-down`,
  severity: 'error',
  from: { path: `^${floor}/` },
  to: { path: `^(${above.join('|')})/` },
})

module.exports = {
  forbidden: [
    ...floors.slice(0, -1).map((floor, i) => mayNotReach(floor, [...floors.slice(i + 1), 'web'])),
    mayNotReach('web', ['standins', 'server', 'visitor', 'demo', 'bin']),
    {
      name: 'core-touches-no-world',
      comment: 'No I/O in core: it is given what it needs.',
      severity: 'error',
      from: { path: '^core/', pathNot: '\\.test\\.ts$' },
      to: { dependencyTypes: ['core'] },
    },
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
    {
      name: 'tests-are-not-imported',
      severity: 'error',
      from: {},
      to: { path: '\\.(test|spec)\\.ts$' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: { extensions: ['.ts', '.vue', '.js'], conditionNames: ['import', 'types'] },
  },
}
