import { svelte } from '@sveltejs/vite-plugin-svelte'
import tailwindcss from '@tailwindcss/vite'
import { defineConfig } from 'vite'

// In development the API runs beside Vite; API_PORT says where.
const apiPort = process.env.API_PORT ?? '8765'

export default defineConfig({
  plugins: [tailwindcss(), svelte()],
  build: { outDir: '../src/neapfrost/api/static', emptyOutDir: true, assetsInlineLimit: 0 },
  server: { host: '127.0.0.1', proxy: { '/api': `http://127.0.0.1:${apiPort}` } },
})
