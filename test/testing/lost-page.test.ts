/** A page that a busy browser loses before it is there. */
import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import { runFile } from '../../packages/eltrix-tool/src/engines/run/file-run.ts';
import type { Opener } from '../../packages/eltrix-tool/src/engines/run/opener.ts';
import { Sources } from '../../packages/eltrix-tool/src/engines/run/sources.ts';
import type { TreeEvent } from '../../packages/eltrix-tool/src/engines/run/tree.ts';

async function runWith(lostPages: number, begins: boolean) {
  let pages = 0;
  const { events, failed } = await run({
    name: 'one that loses pages',
    deliversWhileBusy: true,
    open({ hear }) {
      const isLost = ++pages <= lostPages;
      if (!isLost || begins) hear({ type: 'opened' });
      if (!isLost) {
        hear({ type: 'registered', tests: [] });
        setImmediate(() => hear({ type: 'finished', unchanged: true }));
      }
      return {
        lost: isLost ? Promise.resolve('no such frame') : new Promise(() => {}),
        close: async () => {},
      };
    },
  });
  return { pages, events, failed };
}

async function run(opener: Opener) {
  const events: TreeEvent[] = [];
  const outcome = await runFile({
    opener,
    sources: new Sources('/', new Map()),
    module: 'a.js',
    plan: { shuffle: null } as never,
    form: { compiled: false, production: false },
    node: '0',
    at: { path: 'x', line: 1, column: 1 },
    coverage: false,
    stored: { known: {}, accept: false },
    failurePictures: false,
    isFollowed: () => false,
    picture: () => ({ attachments: [] }),
    snapshot() {},
    grace: 0,
    report: event => events.push(event),
  });
  return { events, failed: outcome.failed.size };
}

describe('a page that is lost before its file has run', () => {
  it('is opened again without a report', async () => {
    const { pages, events, failed } = await runWith(2, false);
    assert.deepEqual([pages, events.length, failed], [3, 0, 0]);
  });

  it('fails the file when it is lost each time', async () => {
    const { pages, events, failed } = await runWith(99, false);
    assert.deepEqual([pages, failed], [3, 1]);
    assert.match(JSON.stringify(events), /\(page-lost\): no such frame/);
  });

  it('is not opened again after the file has started', async () => {
    const { pages, failed } = await runWith(99, true);
    assert.deepEqual([pages, failed], [1, 1]);
  });
});

it('waits as long as it says, also when the clock is set meanwhile', async t => {
  const { failed, events } = await run({
    name: 'one whose machine gets the time from a server',
    deliversWhileBusy: true,
    open({ hear }) {
      hear({ type: 'opened' });
      hear({
        type: 'start',
        id: 0,
        parent: null,
        name: 'x',
        suite: false,
        timeout: 20_000,
        site: '',
      });
      const later = Date.now() + 3_600_000;
      t.mock.method(Date, 'now', () => later);
      setTimeout(() => hear({ type: 'finished', unchanged: true }), 250);
      return { lost: new Promise(() => {}), close: async () => {} };
    },
  });
  assert.deepEqual({ failed, events: events.length }, { failed: 0, events: 1 });
});
