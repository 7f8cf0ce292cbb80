/** Runs the tests of `test/pages` inside real engines and hands their outcomes to Node's runner. */

import { readdirSync, readFileSync } from 'node:fs';
import { createServer } from 'node:http';
import { join } from 'node:path';
import type { TestContext } from 'node:test';
import { eltrix } from 'eltrix/vite';
import { build } from 'vite';
import type { Engine, Session } from '../../src/engines/index.ts';
import type { Outcome, ReportedError } from '../../src/testing/runner.ts';

const root = new URL('../..', import.meta.url).pathname;
const folder = join(root, 'test/pages');

/** ELTRIX_PAGES=forms,light runs only those. */
const wanted = process.env['ELTRIX_PAGES']?.split(',');
export const pageFiles = readdirSync(folder).filter(
  file => file.endsWith('.test.ts') && (!wanted || wanted.includes(file.replace('.test.ts', ''))),
);

export interface PageServer {
  readonly address: string;
  close(): void;
}

const policy =
  "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; connect-src 'self'; frame-src 'self'; require-trusted-types-for 'script'; trusted-types eltrix eltrix-test";

/**
 * Bundles all page tests once and serves them, each on a page of its own under a strict policy.
 * @param compiled whether elements and markup are compiled first, as a build does it.
 */
export async function servePages(compiled = false): Promise<PageServer> {
  const result = (await build({
    root,
    configFile: false,
    logLevel: 'warn',
    publicDir: false,
    mode: 'development',
    resolve: {
      conditions: ['development', 'browser', 'module'],
      alias: {
        'node:test': join(root, 'src/testing/runner.ts'),
        'node:assert/strict': join(root, 'src/testing/assert.ts'),
      },
    },
    define: { __COMPILED__: String(compiled) },
    plugins: [
      ...(compiled ? [eltrix({ always: true, places: true, leaveMistakes: true, onUncompiled: () => {} })] : []),
      {
        name: 'pages',
        resolveId: id => (id.startsWith('virtual:') ? `\0${id}` : undefined),
        load: id => (id.startsWith('\0virtual:') ? entry(join(folder, id.slice('\0virtual:'.length))) : undefined),
      },
    ],
    build: {
      write: false,
      minify: false,
      target: 'es2022',
      modulePreload: false,
      rolldownOptions: {
        input: Object.fromEntries(pageFiles.map(file => [file.replace('.test.ts', ''), `virtual:${file}`])),
        output: { entryFileNames: '[name].js', chunkFileNames: 'shared-[name].js' },
      },
    },
  })) as { output: { fileName: string; code?: string; source?: string }[] };
  const files = new Map(result.output.map(({ fileName, code, source }) => [`/${fileName}`, code ?? source ?? '']));
  const server = createServer((request, response) => {
    const { pathname } = new URL(request.url!, 'http://localhost');
    const copy = /^\/copy-[ab]\/([\w/-]+\.js)$/.exec(pathname);
    const code = copy ? readFileSync(join(root, 'dist/development', copy[1]!), 'utf8') : files.get(pathname);
    response.setHeader('cache-control', 'no-store');
    if (code !== undefined) response.setHeader('content-type', 'text/javascript').end(code);
    else if (pathname.startsWith('/page/')) {
      const name = pathname.slice('/page/'.length);
      response.setHeader('content-type', 'text/html; charset=utf-8').setHeader('content-security-policy', policy);
      response.end(
        `<!doctype html><html lang="en"><head><title>${name}</title></head><body><script type="module" src="/${name}.js"></script></body></html>`,
      );
    } else
      response
        .writeHead(pathname.startsWith('/blank') ? 200 : 404, { 'content-type': 'text/html' })
        .end('<!doctype html>');
  });
  await new Promise<void>(resolve => server.listen(0, '127.0.0.1', resolve));
  const { port } = server.address() as { port: number };
  return { address: `http://127.0.0.1:${port}`, close: () => server.close() };
}

/** A page's module: loads the tests, then carries them out. */
function entry(file: string): string {
  return `
    import { run, serialize } from ${JSON.stringify(join(root, 'src/testing/runner.ts'))};
    const outcomes = [];
    const failed = (name, error) => outcomes.push({ path: [name], suite: false, outcome: 'failed', milliseconds: 0, diagnostics: [], error: serialize(error) });
    globalThis.outcomes = import(${JSON.stringify(file)})
      .then(() => run(outcome => outcomes.push(outcome)))
      .catch(error => failed('the file loads', error))
      .then(() => outcomes);`;
}

/** Runs one page and reports each of its tests as a subtest. */
export async function runPage(t: TestContext, session: Session, server: PageServer, file: string): Promise<void> {
  const page = await session.open(`${server.address}/page/${file.replace('.test.ts', '')}`);
  const outcomes = await page.evaluate<Outcome[]>('globalThis.outcomes');
  await page.close();
  for (const outcome of outcomes) {
    if (outcome.suite) continue;
    await t.test(
      outcome.path.join(' > '),
      { skip: outcome.outcome === 'skipped' && (outcome.reason || true) },
      inner => {
        for (const line of outcome.diagnostics) inner.diagnostic(line);
        if (outcome.error) throw revive(outcome.error);
      },
    );
  }
  if (outcomes.length === 0) throw new Error(`${file} ran no test.`);
}

function revive({ name, message: said, stack, actual, expected }: ReportedError): Error {
  const message =
    actual === undefined || said.startsWith('Expected')
      ? said
      : `${said}\n  actual:   ${actual}\n  expected: ${expected}`;
  const error = new Error(message);
  error.name = name;
  error.stack = stack.includes(message) ? stack : `${name}: ${message}\n${stack}`;
  return error;
}

export async function startOrSkip(t: TestContext, engine: Engine): Promise<Session | undefined> {
  if (engine.find()) return engine.start();
  t.skip(`${engine.name} is not installed. ${engine.install}`);
  return undefined;
}
