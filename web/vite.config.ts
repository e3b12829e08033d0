import tailwindcss from '@tailwindcss/vite'
import react from '@vitejs/plugin-react'
import { defineConfig } from 'vitest/config'

export default defineConfig({
  base: '/static/app/',
  plugins: [react(), tailwindcss()],
  build: { assetsInlineLimit: 0, chunkSizeWarningLimit: 700 },
  server: { proxy: { '/api': 'http://127.0.0.1:8710' } },
  test: { include: ['src/**/*.test.{ts,tsx}'], setupFiles: ['src/testing/setup.ts'] },
})
