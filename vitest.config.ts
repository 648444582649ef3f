import { defineConfig } from 'vitest/config'

const conditions = ['source', 'module', 'node', 'development|production']
const sources = { resolve: { conditions }, ssr: { resolve: { conditions } } }
/** Stops what hangs, and nothing else: the machine may be ten times slower than ours. */
const LIMIT = 600_000
/** No program that a test starts speaks in colour, whatever is set around: Node colours numbers, and warns where both are set. */
const env = { NO_COLOR: '1', FORCE_COLOR: '0' }
const project = (name: string, folder: string) => ({
  ...sources,
  test: {
    name,
    include: [`${folder}/test/**/*.test.ts`],
    exclude: ['**/page.test.ts', '**/keyboard.test.ts', '**/*in-browser.test.ts'],
    testTimeout: LIMIT,
    hookTimeout: LIMIT,
    // The files of a worker share what they import: it keeps no state between matches, and loading it took a third of the time.
    isolate: false,
    env,
  },
})

export default defineConfig({
  test: {
    // Half of the time goes into two files of generated rulebooks: two at a time fit into the time of a check.
    maxWorkers: 2,
    reporters: ['default', './scripts/closing-line.mjs'],
    projects: [
      project('core', 'packages/core'),
      project('venue', 'packages/venue'),
      project('circuit', 'packages/circuit'),
      project('cli', 'packages/cli'),
      project('examples', 'examples'),
      {
        test: {
          name: 'browser',
          // They play what is built, the pages and all else, which loads in a moment: sources took each file ten seconds.
          server: { deps: { external: [/\/dist\//] } },
          env,
          expect: { poll: { timeout: 60_000, interval: 100 } },
          include: [
            'examples/test/page.test.ts',
            'examples/test/keyboard.test.ts',
            'examples/test/*in-browser.test.ts',
          ],
          testTimeout: LIMIT,
          hookTimeout: LIMIT,
        },
      },
    ],
  },
})
