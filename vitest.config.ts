import { defineConfig } from 'vitest/config'

const conditions = ['source', 'module', 'node', 'development|production']
const sources = { resolve: { conditions }, ssr: { resolve: { conditions } } }
/** Stops what hangs, and nothing else: the machine may be ten times slower than ours. */
const LIMIT = 600_000
/** No program that a test starts speaks in colour, whatever is set around: Node colours numbers, and warns where both are set. */
const env = { NO_COLOR: '1', FORCE_COLOR: '0' }
const inBrowser = ['page', 'keyboard', '*in-browser'].map((name) => `examples/test/${name}.test.ts`)

export default defineConfig({
  test: {
    // Tests of venues wait more than they compute: a third worker fills two processors (376 s to 314, without browsers).
    maxWorkers: 3,
    reporters: ['default', './scripts/closing-line.mjs'],
    projects: [
      {
        ...sources,
        test: {
          name: 'node',
          include: ['packages/*/test/**/*.test.ts', 'examples/test/**/*.test.ts'],
          exclude: inBrowser,
          testTimeout: LIMIT,
          hookTimeout: LIMIT,
          // The files of a worker share what they import, of all packages: it keeps no state between matches, and loading it
          // took a third of the time.
          isolate: false,
          env,
        },
      },
      {
        test: {
          name: 'browser',
          // They play what is built, the pages and all else, which loads in a moment: sources took each file ten seconds.
          server: { deps: { external: [/\/dist\//] } },
          env,
          expect: { poll: { timeout: 60_000, interval: 100 } },
          include: inBrowser,
          testTimeout: LIMIT,
          hookTimeout: LIMIT,
        },
      },
    ],
  },
})
