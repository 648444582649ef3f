import { defineConfig } from 'vitest/config'

const conditions = ['source', 'module', 'node', 'development|production']

/** Long hunts, apart from the tests: `npm run soak -- --minutes 30`. */
export default defineConfig({
  resolve: { conditions },
  ssr: { resolve: { conditions } },
  test: {
    include: ['scripts/soak*.ts', 'soak-*.test.ts'],
    disableConsoleIntercept: true,
  },
})
