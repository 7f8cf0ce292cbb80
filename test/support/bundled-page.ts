/** A page with one script, bundled from modules given as text, in a real engine. */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { after } from 'node:test';
import { fileURLToPath } from 'node:url';
import { eltrix } from 'eltrix-tool/vite';
import { build, type Plugin } from 'vite';
import type { Engine, Page, Session } from '../../packages/eltrix-tool/src/engines/index.ts';

export type PluginOptions = NonNullable<Parameters<typeof eltrix>[0]>;

const root = fileURLToPath(new URL('../..', import.meta.url));
const folders: string[] = [];

/**
 * The script of a page, as `eltrix build` would have it.
 * @param modules by the name they import each other by, and `.ts` if they are TypeScript; `page` is the first. Those
 *   that others import as `./name.ts` are files, which the compiler can read.
 */
export async function pageScript(
  modules: Readonly<Record<string, string>>,
  options: PluginOptions | 'as written' = {},
  plugins: readonly Plugin[] = [],
): Promise<string> {
  const folder = mkdtempSync(join(tmpdir(), 'page-'));
  folders.push(folder);
  const codes = new Map<string, string>();
  for (const [name, code] of Object.entries(modules)) {
    const file = join(folder, name.endsWith('.ts') ? name : `${name}.js`);
    if (Object.values(modules).some(other => other.includes(`'./${name}'`))) writeFileSync(file, code);
    else codes.set(file, code);
  }
  const { output } = (await build({
    root,
    configFile: false,
    logLevel: 'silent',
    publicDir: false,
    resolve: { conditions: ['production', 'browser', 'module'] },
    plugins: [
      {
        name: 'modules',
        enforce: 'pre',
        resolveId(id, from) {
          const found = ['.js', '.ts'].map(ending => join(folder, id + ending)).find(file => codes.has(file));
          return (
            found ?? (from?.startsWith(folder) && !id.startsWith('.') ? this.resolve(id, join(root, 'page.js')) : null)
          );
        },
        load: id => codes.get(id),
      },
      ...(options === 'as written' ? [] : [eltrix(options)]),
      ...plugins,
    ],
    build: {
      write: false,
      target: 'es2022',
      minify: true,
      rolldownOptions: { input: 'page', output: { entryFileNames: 'page.js' } },
    },
  })) as { output: { code: string }[] };
  return output[0]!.code;
}

const scripts: string[] = [];
const server = createServer(({ url }, response) => {
  const [, kind, index] = /^\/(page|xhtml|script)(\d+)/.exec(url ?? '') ?? [];
  // Some engines run no module script in XHTML, but import one.
  const imported = `<script>globalThis.loaded = import("/script${index}")</script>`;
  if (kind === 'script') response.setHeader('content-type', 'text/javascript').end(scripts[Number(index)]);
  else if (kind === 'xhtml')
    response
      .setHeader('content-type', 'application/xhtml+xml')
      .end(`<html xmlns="http://www.w3.org/1999/xhtml"><head><base href="/"/></head><body>${imported}</body></html>`);
  else
    response
      .setHeader('content-type', 'text/html')
      .end(`<!doctype html><base href="/"><body><script type="module" src="/script${index}"></script>`);
});
const listening = new Promise<string>(resolve =>
  server.listen(0, '127.0.0.1', () => resolve(`http://127.0.0.1:${(server.address() as { port: number }).port}`)),
);
/** Each engine is started once a file. */
const sessions = new Map<Engine, Promise<Session>>();

after(async () => {
  for (const folder of folders) rmSync(folder, { recursive: true });
  for (const session of sessions.values()) await (await session).close();
  server.close();
  server.closeAllConnections();
});

/** Hands out pages of an engine that run a script; all have one base address, and are closed in the end. */
export async function withPages<T>(
  engine: Engine,
  use: (open: (script: string, kind?: 'html' | 'xhtml') => Promise<Page>) => Promise<T>,
): Promise<T> {
  if (!sessions.has(engine)) sessions.set(engine, engine.start());
  const [session, address] = await Promise.all([sessions.get(engine)!, listening]);
  const opened: Page[] = [];
  try {
    return await use(async (script, kind = 'html') => {
      const page = await session.open(`${address}/${kind === 'html' ? 'page' : kind}${scripts.push(script) - 1}`);
      opened.push(page);
      return page;
    });
  } finally {
    for (const page of opened) await page.close();
  }
}
