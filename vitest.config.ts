import { defineConfig } from 'vitest/config'

const conditions = ['source', 'module', 'node', 'development|production']
const sources = { resolve: { conditions }, ssr: { resolve: { conditions } } }
const project = (name: string, folder: string, timeout: number) => ({
  ...sources,
  test: {
    name,
    include: [`${folder}/test/**/*.test.ts`],
    exclude: ['**/page.test.ts', '**/keyboard.test.ts', '**/in-browser.test.ts'],
    testTimeout: timeout,
    hookTimeout: timeout,
  },
})

export default defineConfig({
  test: {
    // Half of the time goes into two files of generated rulebooks: two at a time fit into the time of a check.
    maxWorkers: 2,
    reporters: ['default', './scripts/closing-line.mjs'],
    projects: [
      project('core', 'packages/core', 30_000),
      project('venue', 'packages/venue', 20_000),
      project('cli', 'packages/cli', 60_000),
      project('examples', 'examples', 30_000),
      {
        ...sources,
        test: {
          name: 'browser',
          expect: { poll: { timeout: 8000, interval: 40 } },
          include: [
            'examples/test/page.test.ts',
            'examples/test/keyboard.test.ts',
            'examples/test/in-browser.test.ts',
          ],
          testTimeout: 90_000,
          hookTimeout: 90_000,
          fileParallelism: false,
        },
      },
    ],
  },
})
