import preact from '@preact/preset-vite'
import { defineConfig } from 'vite'

export default defineConfig({
  root: new URL('.', import.meta.url).pathname,
  plugins: [preact({ prefreshEnabled: false })],
  resolve: { conditions: ['source', 'module', 'browser', 'development|production'] },
  build: { outDir: '../dist/desk', emptyOutDir: true },
  logLevel: 'warn',
})
