/** What each export of the entries for applications adds to an element, in bytes of brotli. */
import { brotliCompressSync } from 'node:zlib';
import { build } from 'vite';

const root = new URL('..', import.meta.url).pathname;
const core =
  "import { contract, markup, signal, effect, computed, batch } from 'eltrix'; globalThis.x = [contract, markup, signal, effect, computed, batch];";

async function bundled(code: string): Promise<string> {
  const { output } = (await build({
    root,
    configFile: false,
    logLevel: 'silent',
    publicDir: false,
    resolve: { conditions: ['production', 'browser', 'module'] },
    plugins: [
      {
        name: 'entry',
        resolveId: id => (id === 'virtual:entry' ? '\0entry' : undefined),
        load: id => (id === '\0entry' ? code : undefined),
      },
    ],
    build: {
      write: false,
      minify: 'oxc',
      target: 'es2022',
      modulePreload: false,
      rolldownOptions: { input: 'virtual:entry', external: /indexed/, output: { entryFileNames: 'entry.js' } },
    },
  })) as unknown as { output: { code: string }[] };
  return output[0]!.code;
}

const weigh = (code: string) => brotliCompressSync(code).length;

export const entries = {
  behaviours: [
    'watchSize',
    'watchVisibility',
    'watchVisibilityOf',
    'watchTree',
    'watchTimings',
    'media',
    'clock',
    'request',
  ],
  store: ['store', 'history', 'autosave', 'followTabs'],
  context: ['ask', 'offer', 'readConfiguration'],
  routes: ['routes'],
} as const;

/** @returns the core's bytes, and those that each name adds, as `eltrix/store store`. */
export async function entrySizes(): Promise<{ core: number; added: Map<string, number> }> {
  const alone = weigh(await bundled(core));
  const added = new Map<string, number>();
  for (const [entry, names] of Object.entries(entries))
    for (const name of names) {
      const whole = weigh(await bundled(`${core} import { ${name} } from 'eltrix/${entry}'; globalThis.y = ${name};`));
      added.set(`eltrix/${entry} ${name}`, whole - alone);
    }
  return { core: alone, added };
}
