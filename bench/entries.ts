/** What each entry adds to an element, in bytes of brotli; and a store with 10,000 readers beside one written by hand. */
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
const alone = weigh(await bundled(core));
console.log(`The library's core: ${alone} B. Each entry adds:`);
for (const [entry, names] of Object.entries({
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
}))
  for (const name of names) {
    const whole = weigh(await bundled(`${core} import { ${name} } from 'eltrix/${entry}'; globalThis.y = ${name};`));
    console.log(`  eltrix/${entry}  ${name.padEnd(18)} ${String(whole - alone).padStart(5)} B`);
  }

// 10,000 readers, each of a field of its own; one field changes.
const { effect, settled } = await import('eltrix');
const { store } = await import('eltrix/store');
const count = 10_000;
const initial = Object.fromEntries(Array.from({ length: count }, (_, i) => [`f${i}`, 0]));
const times = 200;

let runs = 0;
const ours = store(initial, { set: (state, key: string, value: number) => ({ ...state, [key]: value }) });
for (const key of Object.keys(initial))
  effect(() => {
    void ours.state[key];
    runs++;
  });
await settled();
runs = 0;
let start = performance.now();
for (let i = 1; i <= times; i++) ours.change('set', `f${i}`, i);
const own = performance.now() - start;
console.log(`\n10,000 readers of a store, one field changed ${times} times: ${runs} readers ran.`);

/** By hand: an EventTarget that tells everybody, and each looks whether it is concerned. */
class Plain extends EventTarget {
  state: Record<string, number> = initial;
  set(key: string, value: number) {
    this.state = { ...this.state, [key]: value };
    this.dispatchEvent(new CustomEvent('change', { detail: key }));
  }
}
const plain = new Plain();
let told = 0;
for (const key of Object.keys(initial))
  plain.addEventListener('change', event => {
    if ((event as CustomEvent<string>).detail === key) told++;
  });
start = performance.now();
for (let i = 1; i <= times; i++) plain.set(`f${i}`, i);
const hand = performance.now() - start;
console.log(
  `By hand with an EventTarget ${hand.toFixed(0)} ms, store ${own.toFixed(0)} ms: ratio ${(own / hand).toFixed(2)} (${told} concerned).`,
);
