import { after, before, describe, test } from 'node:test';
import { engines } from '../src/engines/index.ts';
import { type PageServer, pageFiles, runPage, servePages, startOrSkip } from './support/pages.ts';

// ELTRIX_MODES=compiled runs only what is compiled first.
const modes = (process.env['ELTRIX_MODES'] ?? 'as written,compiled').split(',');
const servers = new Map<string, PageServer>();
before(async () => {
  for (const mode of modes) servers.set(mode, await servePages(mode === 'compiled'));
});
after(() => {
  for (const server of servers.values()) server.close();
});

describe('in the page', { concurrency: 3 }, () => {
  // ELTRIX_ENGINES=chromium,webkit runs only in those.
  const wanted = process.env['ELTRIX_ENGINES']?.split(',');
  for (const engine of Object.values(engines).filter(({ name }) => !wanted || wanted.includes(name))) {
    test(engine.name, async t => {
      const session = await startOrSkip(t, engine);
      if (!session) return;
      try {
        for (const [mode, server] of servers)
          for (const file of pageFiles)
            await t.test(`${file}, ${mode}`, inner => runPage(inner, session, server, file));
      } finally {
        await session.close();
      }
    });
  }
});
