/** The server of test pages gives nothing away. */
import assert from 'node:assert/strict';
import { mkdirSync, symlinkSync, writeFileSync } from 'node:fs';
import { request } from 'node:http';
import { join } from 'node:path';
import { after, before, describe, it } from 'node:test';
import { startTestServer, type TestServer, type Visit } from '../../packages/eltrix-tool/src/engines/run/server.ts';
import { temporary } from '../support/project.ts';

const root = join(temporary(), 'project');
let server: TestServer;
/** The address of a page, up to what it is. */
let base: string;

const visit: Visit = {
  settings: {
    plan: {} as never,
    list: false,
    environment: { engine: 'none', compiled: false, production: false },
    stored: { known: {}, accept: false },
    failurePictures: false,
    careful: false,
    driven: false,
    watched: false,
    waits: false,
  },
  module: 'none.js',
  hear() {},
  command: async () => null,
};

/** Sends a path as it is; `fetch` would tidy it. */
const ask = (path: string, headers: Record<string, string> = {}) =>
  new Promise<{ status: number; body: string }>((resolve, reject) => {
    const { hostname, port } = new URL(base);
    request({ hostname, port, path, headers }, response => {
      let body = '';
      response.on('data', data => (body += data));
      response.on('end', () => resolve({ status: response.statusCode!, body }));
    })
      .on('error', reject)
      .end();
  });

describe('the server of test pages', () => {
  before(async () => {
    mkdirSync(join(root, 'src'), { recursive: true });
    writeFileSync(join(root, 'src/open.txt'), 'open');
    writeFileSync(join(root, '.env'), 'secret');
    writeFileSync(join(root, '../outside.txt'), 'secret');
    symlinkSync(join(root, '../outside.txt'), join(root, 'src/link.txt'));
    symlinkSync(join(root, '..'), join(root, 'up'));
    server = startTestServer(root, undefined);
    base = (await server.open(visit)).address.replace(/page\/\d+$/, '');
  });
  after(() => server.close());

  it('listens on 127.0.0.1, and serves only the project', async () => {
    assert.equal(new URL(base).hostname, '127.0.0.1');
    const { pathname } = new URL(base);
    assert.deepEqual(await ask(`${pathname}project/src/open.txt`), { status: 200, body: 'open' });
    assert.equal((await ask(`${pathname}project~b/src/open.txt`)).body, 'open');
  });

  it('rejects hidden files, parent paths, links to outside, absolute paths and folders', async () => {
    const { pathname } = new URL(base);
    for (const path of [
      '.env',
      'src/../.env',
      '../outside.txt',
      '%2e%2e/outside.txt',
      '..%2foutside.txt',
      'src/link.txt',
      'up/outside.txt',
      '/etc/passwd',
      '%2fetc%2fpasswd',
      'src/..%5c..%5coutside.txt',
      'src',
      'src/open.txt%00',
    ]) {
      const { status, body } = await ask(`${pathname}project/${path}`);
      assert.ok(status >= 400, `${path} answers ${status}`);
      assert.doesNotMatch(body, /secret|root:/);
    }
  });

  it('gives each page a separate origin, and closes it with the page', async () => {
    const [one, two] = await Promise.all([server.open(visit), server.open(visit)]);
    assert.notEqual(new URL(one.address).origin, new URL(two.address).origin);
    assert.equal((await fetch(one.address)).status, 200);
    one.close();
    await assert.rejects(fetch(one.address));
    assert.equal((await fetch(two.address)).status, 200);
    two.close();
  });

  it('hears each message of a page once, also those that a page repeats when it is left', async () => {
    const heard: string[] = [];
    const one = await server.open({ ...visit, hear: ({ type }) => void heard.push(type) });
    const post = (first: number, ...types: string[]) =>
      fetch(`${new URL('../run/', one.address)}${one.address.split('/').at(-1)}/events`, {
        method: 'POST',
        body: JSON.stringify({ first, messages: types.map(type => ({ type })) }),
      });
    await post(0, 'opened');
    await post(1, 'start', 'end', 'left');
    // What the worker has sent arrives afterwards.
    await post(1, 'start');
    await post(2, 'end');
    assert.deepEqual(heard, ['opened', 'start', 'end', 'left']);
    one.close();
  });

  it('requires the token and the Host header', async () => {
    const { pathname } = new URL(base);
    assert.equal((await ask('/project/src/open.txt')).status, 403);
    assert.equal((await ask(`/${'0'.repeat(32)}/project/src/open.txt`)).status, 403);
    assert.equal((await ask(`${pathname}project/src/open.txt`, { host: 'evil.example' })).status, 421);
    assert.equal((await ask(`${pathname}page/99`)).status, 404);
  });
});
