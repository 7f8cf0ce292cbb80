/** A page that loads slowly in the place of another one is opened once: it would begin twice, and be left while it runs. */
import assert from 'node:assert/strict';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { describe, it } from 'node:test';
import { type Engine, engines } from '../../packages/eltrix-tool/src/engines/index.ts';

/** A server of pages; the picture in `/slow` arrives after the time that a page has to leave its tab. */
async function serve() {
  const asked: string[] = [];
  const server = createServer(({ url = '' }, response) => {
    asked.push(url);
    if (url === '/picture') setTimeout(() => response.end(), 5000);
    else
      response
        .setHeader('content-type', 'text/html')
        .end(`<!doctype html><title>Page</title>${url === '/slow' ? '<img src="/picture" alt="">' : ''}`);
  });
  await new Promise<void>(resolve => server.listen(0, '127.0.0.1', resolve));
  const base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  const times = (path: string) => asked.filter(url => url === path).length;
  const close = () => {
    server.closeAllConnections();
    server.close();
  };
  return { base, times, close };
}

async function openSlowly(engine: Engine): Promise<number> {
  const { base, times, close } = await serve();
  const session = await engine.start();
  try {
    const first = await session.open(`${base}/first`, { inFront: true });
    await first.close(true);
    const slow = await session.open(`${base}/slow`, { inFront: true });
    assert.equal(await slow.evaluate('document.readyState'), 'complete');
    return times('/slow');
  } finally {
    await session.close();
    close();
  }
}

describe('a page that loads slowly', () => {
  for (const engine of [engines.chromium, engines.firefox])
    it(`is opened once in ${engine.name}`, { skip: !engine.find() && `no ${engine.name}` }, async () => {
      assert.equal(await openSlowly(engine), 1);
    });
});
