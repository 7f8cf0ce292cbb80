/** What each export of the entries for applications adds to an element, in bytes of brotli. */
import { brotliCompressSync } from 'node:zlib';
import { build } from 'vite';

const root = new URL('..', import.meta.url).pathname;
/**
 * What an element has besides. One byte more or less in it moves what brotli makes of the rest by 50 bytes either way, so
 * it is weighed beside several.
 */
const more = ['', 'each', 'sync', 'stylesheet', 'on', 'handle', 'text', 'integer', 'choice', 'flag', 'data', 'live'];
const cores = more.map((_, i) => {
  const names = ['contract', 'markup', 'signal', 'effect', 'computed', 'batch', ...more.slice(1, i + 1)].join(', ');
  return `import { ${names} } from 'eltrix'; globalThis.x = [${names}];`;
});

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
  const alone: number[] = [];
  for (const core of cores) alone.push(weigh(await bundled(core)));
  const added = new Map<string, number>();
  for (const [entry, names] of Object.entries(entries))
    for (const name of names) {
      let sum = 0;
      for (const [i, core] of cores.entries())
        sum +=
          weigh(await bundled(`${core} import { ${name} } from 'eltrix/${entry}'; globalThis.y = ${name};`)) -
          alone[i]!;
      added.set(`eltrix/${entry} ${name}`, Math.round(sum / cores.length));
    }
  return { core: alone[0]!, added };
}
