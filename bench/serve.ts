import { createServer } from 'node:http';
import { fileURLToPath } from 'node:url';
import { bundle, type Options } from './bundle.ts';

const root = fileURLToPath(new URL('..', import.meta.url));

/** Bundles a benchmark's page with the production build and serves it, isolated from other origins. */
export async function servePages(entry: string, options: Options = {}): Promise<{ address: string; close(): void }> {
  const names = { entryFileNames: 'page.js', chunkFileNames: '[name]-[hash].js' };
  const output = await bundle(root, root + entry, names, options);
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
