/** What each entry adds to an element, in bytes of brotli; and a store with 10,000 readers beside one written by hand. */
import { entrySizes } from './entry-sizes.ts';

const { core, added } = await entrySizes();
console.log(`The library's core: ${core} B. Each entry adds:`);
for (const [name, bytes] of added) console.log(`  ${name.padEnd(38)} ${String(bytes).padStart(5)} B`);

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
