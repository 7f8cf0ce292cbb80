/** Known and random attacks on the tool's servers. ELTRIX_ATTACKS says how many, ELTRIX_SEED which. */
import assert from 'node:assert/strict';
import { mkdirSync, symlinkSync, writeFileSync } from 'node:fs';
import { connect } from 'node:net';
import { join } from 'node:path';
import { after, before, describe, it } from 'node:test';
import { startCheckServer } from '../../packages/eltrix-tool/src/check/elements/server.ts';
import { startTestServer } from '../../packages/eltrix-tool/src/engines/run/server.ts';
import { project, running } from '../support/project.ts';
import { random, seed } from '../support/random.ts';

const count = Number(process.env['ELTRIX_ATTACKS'] ?? 1500);
const secret = 'NOT-FOR-THE-PAGE';

/** What leads to what is hidden or outside, from a folder of the project. */
const ways = [
  '.env',
  '.git/config',
  '.aws/credentials',
  'src/.hidden/a.js',
  'src/link.txt',
  'src/up/outside.txt',
  '../outside.txt',
  '/etc/passwd',
  '',
  'src',
  'package.json/../.env',
  'node_modules/.package/../../.env',
];
const dresses: ((text: string) => string)[] = [
  text => text,
  text => `/${text}`,
  text => `//${text}`,
  text => `./${text}`,
  text => text.replaceAll('.', '%2e'),
  text => text.replaceAll('/', '%2f'),
  text => text.replaceAll('/', '%5c'),
  text => text.replaceAll('/', '\\'),
  text => text.replaceAll('.', '%252e'),
  text => text.replaceAll('/', '//'),
  text => `${text}?raw`,
  text => `${text}?url&import`,
  text => `${text}?import&raw??`,
  text => `${text}#x`,
  text => `${text}%00.js`,
  text => `${text}\0`,
  text => text.replaceAll('.', '\uff0e'),
  text => `x/../${text}`,
  text => `${text}/`,
  text => `%${text}`,
  text => `@fs/${text}`,
  text => `@fs/ROOT/${text}`,
  text => `@id/${text}`,
  text => `@id/__x00__${text}`,
  text => `node_modules/../${text}`,
  text => `@eltrix/project/${text}`,
  text => `project/${text}`,
  text => `files/${text}`,
];
const methods = [
  'GET',
  'GET',
  'GET',
  'HEAD',
  'POST',
  'PUT',
  'DELETE',
  'OPTIONS',
  'TRACE',
  'PATCH',
  'get',
  'CONNECT',
  'X',
];
const targets = [
  '/',
  '*',
  'http://[::1',
  'http://127.0.0.1:PORT/.env',
  '//.aws/credentials',
  '///',
  '/%',
  '//',
  '/%zz',
  '/\\',
  '?',
  '/?%',
  'http://',
  ':',
  '/a:b',
];
const headers = [
  '',
  'Origin: https://evil.example\r\n',
  'Origin: http://localhost:1\r\n',
  'Origin: null\r\n',
  'Sec-Fetch-Site: cross-site\r\nSec-Fetch-Mode: no-cors\r\nSec-Fetch-Dest: script\r\n',
  'Range: bytes=5-2\r\n',
  'Range: bytes=-\r\n',
  'Range: bytes=99999999999999999999-\r\n',
  'If-Modified-Since: soon\r\n',
  'Content-Length: -1\r\n',
  'Content-Length: 5\r\n\r\n{"a"',
  'Transfer-Encoding: chunked\r\n\r\nzz\r\n',
  'Cookie: a=b\r\n',
  'X: \0\r\n',
];
const hosts = [
  '127.0.0.1:PORT',
  '127.0.0.1:PORT',
  '127.0.0.1:PORT',
  'localhost:PORT',
  'evil.example',
  '',
  '[::1]:PORT',
  '127.0.0.1',
  'a\r\nHost: b',
];

const pick = <T>(next: (below: number) => number, list: readonly T[]): T => list[next(list.length)]!;

/** Sends bytes as they are, and gives what comes back. */
function send(port: number, text: string): Promise<string> {
  return new Promise(resolve => {
    const socket = connect(port, '127.0.0.1', () => socket.write(text));
    let answer = '';
    socket.setTimeout(1500, () => socket.destroy());
    socket.on('data', data => {
      answer += data;
      // A stream of events never ends.
      if (answer.includes('text/event-stream')) socket.destroy();
    });
    socket.on('error', () => {});
    socket.on('close', () => resolve(answer));
  });
}

describe('the tool’s servers', () => {
  const root = join(project({ 'outside.txt': secret }, []), 'inside');
  const servers: { name: string; base: string; close(): unknown }[] = [];
  let gallery: ReturnType<typeof running>;
  before(async () => {
    const files: Record<string, string> = {
      'package.json': '{ "type": "module" }',
      'src/bee-card.js':
        "import { contract, text } from 'eltrix';\nexport class BeeCard extends contract('bee-card', { attributes: { name: text() } }) {}",
      '.env': secret,
      '.git/config': secret,
      '.aws/credentials': secret,
      'src/.hidden/a.js': secret,
      'src/open.txt': 'open',
    };
    for (const [file, text] of Object.entries(files)) {
      mkdirSync(join(root, file, '..'), { recursive: true });
      writeFileSync(join(root, file), text);
    }
    symlinkSync(join(root, '../node_modules'), join(root, 'node_modules'));
    symlinkSync('../../outside.txt', join(root, 'src/link.txt'));
    symlinkSync('../..', join(root, 'src/up'));
    gallery = running(root, 'serve', '--port', '0');
    const address = /http:\S+/.exec(await gallery.until(/ready in/))![0];
    const test = startTestServer(root, undefined);
    const visit = {
      settings: { plan: {}, list: false, environment: {} },
      module: 'none.js',
      hear() {},
      command: async () => null,
    };
    const page = await test.open(visit as never);
    const check = await startCheckServer(root, new Map([['a.js', 'a']]), () => undefined, true, {
      front: async () => {},
      known() {},
    });
    servers.push(
      { name: 'serve', base: address, close: () => gallery.end() },
      { name: 'test', base: page.address.replace(/page\/\d+$/, ''), close: () => test.close() },
      { name: 'check', base: check.base, close: () => check.close() },
    );
  });
  after(async () => {
    for (const { close } of servers) await close();
  });

  it(`give nothing away and stay up under ${count} attacks each`, async t => {
    t.diagnostic(`ELTRIX_SEED=${seed}`);
    const statuses: Record<string, number> = {};
    for (const { name, base } of servers) {
      const next = random(seed);
      const { port, pathname } = new URL(base);
      const one = async (n: number) => {
        const way =
          n < ways.length * dresses.length
            ? dresses[n % dresses.length]!(ways[Math.floor(n / dresses.length)]!)
            : dresses.reduce((text, dress) => (next(9) === 0 ? dress(text) : text), pick(next, ways));
        const target = next(12) === 0 ? pick(next, targets) : (next(3) ? pathname : '/') + way;
        const known = n < ways.length * dresses.length;
        const request =
          `${known ? 'GET' : pick(next, methods)} ${known ? pathname + way : target} HTTP/1.1\r\nHost: ${known ? '127.0.0.1:PORT' : pick(next, hosts)}\r\n${known ? '' : pick(next, headers)}Connection: close\r\n\r\n`
            .replaceAll('PORT', port)
            .replaceAll('ROOT', root.slice(1));
        const answer = await send(Number(port), request);
        assert.ok(
          !answer.includes(secret) && !answer.includes('root:x:'),
          `${name} answered ${JSON.stringify(request)} with ${answer}`,
        );
        const status = answer.slice(9, 12) || 'none';
        statuses[status] = (statuses[status] ?? 0) + 1;
      };
      for (let n = 0; n < count; n += 20)
        await Promise.all(Array.from({ length: Math.min(20, count - n) }, (_, at) => one(n + at)));
      assert.equal(
        (await fetch(name === 'serve' ? base : `${base}${name === 'test' ? 'blank' : 'a.js'}`)).status,
        200,
        `${name} still answers`,
      );
    }
    t.diagnostic(JSON.stringify(statuses));
  });

  it('cannot be read or triggered by a page of another origin', async () => {
    for (const { name, base } of servers) {
      const { port, pathname } = new URL(base);
      const open =
        name === 'serve'
          ? `${pathname}src/open.txt`
          : name === 'test'
            ? `${pathname}project/src/open.txt`
            : `${pathname}files/src/open.txt`;
      const get = (more: string) =>
        send(Number(port), `GET ${open} HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\n${more}Connection: close\r\n\r\n`);
      assert.match(await get(''), /^HTTP\/1\.1 200 [^]*open$/, name);
      for (const origin of ['https://evil.example', `http://localhost:${port}`, 'http://127.0.0.1:1', 'file://'])
        assert.match(await get(`Origin: ${origin}\r\n`), /^HTTP\/1\.1 403 /, `${name} ${origin}`);
      assert.doesNotMatch(await get('Origin: http://localhost:5173\r\n'), /access-control-allow/i);
      assert.match(
        await send(
          Number(port),
          `POST ${open} HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\nContent-Length: 0\r\nConnection: close\r\n\r\n`,
        ),
        /^HTTP\/1\.1 405 /,
      );
      const elsewhere = 'Sec-Fetch-Site: cross-site\r\nSec-Fetch-Mode: no-cors\r\nSec-Fetch-Dest: script\r\n';
      // Who knows the secret of the others may ask from a frame without an origin.
      if (name === 'serve') assert.match(await get(elsewhere), /^HTTP\/1\.1 403 /);
    }
  });
});
