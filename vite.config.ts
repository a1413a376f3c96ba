import { sveltekit } from '@sveltejs/kit/vite';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'vite';

export default defineConfig({
  // Fonts stay files: the security policy takes none from data: addresses.
  build: { assetsInlineLimit: 0 },
  plugins: [tailwindcss(), sveltekit()],
  server: { fs: { allow: ['demo', 'database', 'docs', 'core'] } }
});
