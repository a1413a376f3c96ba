import adapter from '@sveltejs/adapter-node';

// The tests build into folders of their own, so that they never disturb a running application.
const build = process.env.LODESTONE_BUILD ?? 'build';

/** @type {import('@sveltejs/kit').Config} */
export default {
  compilerOptions: { runes: true },
  kit: {
    // What is sent over a network is packed beforehand; the tests do not leave the machine.
    adapter: adapter({ out: build, precompress: build === 'build' }),
    outDir: build === 'build' ? '.svelte-kit' : '.svelte-kit-test',
    // One page stands in for all while the server is away: addresses in it must not depend on where it is shown.
    paths: { relative: false },
    alias: { $demo: 'demo', $database: 'database', $docs: 'docs' },
    csp: {
      mode: 'nonce',
      directives: {
        'default-src': ['none'],
        'script-src': ['self'],
        'style-src': ['self'],
        // The one inline style there is: SvelteKit's own, which hides its page announcer from the eye.
        'style-src-attr': ['unsafe-hashes', 'sha256-S8qMpvofolR8Mpjy4kQvEm7m1q8clzU4dfDH0AmvZjo='],
        'img-src': ['self', 'data:'],
        'font-src': ['self'],
        'connect-src': ['self'],
        'worker-src': ['self'],
        'manifest-src': ['self'],
        'base-uri': ['none'],
        'form-action': ['self'],
        'frame-ancestors': ['none'],
        'object-src': ['none']
      }
    },
    // Requests of other origins are refused by scripts/serve.mjs before they get here. The framework would also refuse
    // those that name no origin: scripts of capture programs, which are no pages.
    csrf: { trustedOrigins: ['*'] },
    typescript: {
      config: (config) => ({
        ...config,
        compilerOptions: {
          ...config.compilerOptions,
          noUncheckedIndexedAccess: true,
          exactOptionalPropertyTypes: true
        },
        include: [
          ...config.include,
          '../vitest.config.ts',
          '../playwright.config.ts',
          '../e2e/**/*.ts',
          '../tests/**/*.ts'
        ]
      })
    }
  }
};
