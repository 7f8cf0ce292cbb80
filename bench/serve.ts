import { createServer } from 'node:http';
import { eltrix } from 'eltrix/vite';
import { build } from 'vite';

const root = new URL('..', import.meta.url).pathname;

/** Bundles a benchmark's page with the production build and serves it, isolated from other origins. */
export async function servePages(entry: string): Promise<{ address: string; close(): void }> {
  const { output } = (await build({
    root,
    configFile: false,
    logLevel: 'warn',
    publicDir: false,
    resolve: { conditions: ['production', 'browser', 'module'] },
    // As it is shipped; by hand there is nothing that it changes.
    plugins: process.env['ELTRIX_BENCH'] === 'as-written' ? [] : [eltrix()],
    build: {
      write: false,
      target: 'es2022',
      modulePreload: false,
      rolldownOptions: {
        input: root + entry,
        output: { entryFileNames: 'page.js', chunkFileNames: '[name]-[hash].js' },
      },
    },
  })) as { output: { fileName: string; code?: string }[] };
  const files = new Map(output.map(({ fileName, code }) => [`/${fileName}`, code ?? '']));
  const server = createServer((request, response) => {
    // Isolated from other origins, a page has a finer clock.
    response
      .setHeader('cross-origin-opener-policy', 'same-origin')
      .setHeader('cross-origin-embedder-policy', 'require-corp');
    const code = files.get(new URL(request.url!, 'http://localhost').pathname);
    if (code === undefined)
      response
        .setHeader('content-type', 'text/html')
        .end('<!doctype html><body><script type="module" src="/page.js"></script></body>');
    else response.setHeader('content-type', 'text/javascript').end(code);
  });
  await new Promise<void>(resolve => server.listen(0, '127.0.0.1', resolve));
  return { address: `http://127.0.0.1:${(server.address() as { port: number }).port}`, close: () => server.close() };
}
