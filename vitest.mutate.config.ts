import { defineConfig } from 'vitest/config'

// Which tests judge a mutant: those of its area, quick enough to be run a hundred times (see scripts/mutate.mjs).
const conditions = ['source', 'module', 'node', 'development|production']
export default defineConfig({
  resolve: { conditions },
  ssr: { resolve: { conditions } },
  test: {
    include: (process.env['MUTATE_TESTS'] ?? '').split(','),
    exclude: (process.env['MUTATE_LEFT_OUT'] ?? '').split(','),
    testTimeout: 60_000,
    hookTimeout: 60_000,
    env: { NO_COLOR: '1', FORCE_COLOR: '0' },
  },
})
