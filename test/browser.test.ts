import { after, before, describe, test } from 'node:test';
import { engines } from '../src/engines/index.ts';
import { type PageServer, pageFiles, runPage, servePages, startOrSkip } from './support/pages.ts';

let server: PageServer;
before(async () => {
  server = await servePages();
});
after(() => server.close());

describe('in the page', { concurrency: 3 }, () => {
  // ELTRIX_ENGINES=chromium,webkit runs only in those.
  const wanted = process.env['ELTRIX_ENGINES']?.split(',');
  for (const engine of Object.values(engines).filter(({ name }) => !wanted || wanted.includes(name))) {
    test(engine.name, async t => {
      const session = await startOrSkip(t, engine);
      if (!session) return;
      try {
        for (const file of pageFiles) await t.test(file, inner => runPage(inner, session, server, file));
      } finally {
        await session.close();
      }
    });
  }
});
