/** What each export of the entries for applications adds to an element, in bytes of brotli. */
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { brotliCompressSync } from 'node:zlib';
import { rolldown } from 'rolldown';

const root = fileURLToPath(new URL('..', import.meta.url));
/**
 * What an element has besides. One byte more or less in it moves what brotli makes of the rest by 50 bytes either way, so
 * it is weighed beside several.
 */
const more = ['each', 'stylesheet', 'on', 'text', 'choice', 'live'];
const cores = more.map((_, i) => {
  const names = ['contract', 'markup', 'signal', 'effect', 'computed', 'batch', ...more.slice(0, i)].join(', ');
  return `import { ${names} } from 'eltrix'; globalThis.x = [${names}];`;
});

async function bundled(code: string): Promise<string> {
  const build = await rolldown({
    cwd: root,
    input: 'virtual:entry',
    platform: 'browser',
    external: /indexed/,
    resolve: { conditionNames: ['eltrix-unrendered', 'production', 'browser', 'module', 'import'] },
    transform: { target: 'es2022' },
    plugins: [
      {
        name: 'entry',
        resolveId: id => (id === 'virtual:entry' ? join(root, 'entry.js') : undefined),
        load: id => (id === join(root, 'entry.js') ? code : undefined),
      },
    ],
  });
  const { output } = await build.generate({ format: 'esm', minify: true, codeSplitting: false });
  await build.close();
  return output[0].code;
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
    'debounced',
    'submission',
    'serverEvents',
  ],
  store: ['store', 'history', 'autosave', 'followTabs'],
  context: ['ask', 'offer', 'readConfiguration'],
  routes: ['routes'],
  views: ['region', 'promised', 'leaving', 'entering', 'eachInView', 'fromTemplate', 'handleErrors'],
  language: ['locale', 'direction', 'formats', 'messages'],
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
