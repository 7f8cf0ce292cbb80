/** npm run bench:signals: graphs of four shapes, ours beside packages that engineers would pick. Runs in Node. */
import { parseArgs } from 'node:util';
import * as preact from '@preact/signals-core';
import * as alien from 'alien-signals';
import { batch, computed, effect, signal } from 'eltrix';
import { Signal } from 'signal-polyfill';

interface Cell {
  get(): number;
  set(value: number): void;
}
interface Library {
  readonly name: string;
  signal(value: number): Cell;
  computed(fn: () => number): { get(): number };
  /** Runs now, and again by the end of each batch. */
  effect(fn: () => void): () => void;
  batch(fn: () => void): void;
}

const libraries: Library[] = [
  { name: 'eltrix', signal, computed, effect, batch },
  {
    name: 'alien-signals',
    signal(value) {
      const cell = alien.signal(value);
      return { get: () => cell(), set: next => void cell(next) };
    },
    computed(fn) {
      const cell = alien.computed(fn);
      return { get: () => cell() };
    },
    effect: fn => alien.effect(fn),
    batch(fn) {
      alien.startBatch();
      fn();
      alien.endBatch();
    },
  },
  {
    name: '@preact/signals-core',
    signal(value) {
      const cell = preact.signal(value);
      return {
        get: () => cell.value,
        set(next) {
          cell.value = next;
        },
      };
    },
    computed(fn) {
      const cell = preact.computed(fn);
      return { get: () => cell.value };
    },
    effect: fn => preact.effect(fn),
    batch: fn => preact.batch(fn),
  },
  polyfill(),
];

function polyfill(): Library {
  let dirty = false;
  const watcher = new Signal.subtle.Watcher(() => {
    dirty = true;
  });
  const flush = () => {
    while (dirty) {
      dirty = false;
      for (const pending of watcher.getPending()) pending.get();
      watcher.watch();
    }
  };
  return {
    name: 'signal-polyfill',
    signal: value => new Signal.State(value),
    computed: fn => new Signal.Computed(fn),
    effect(fn) {
      const node = new Signal.Computed(() => {
        fn();
        return {};
      });
      watcher.watch(node);
      node.get();
      return () => watcher.unwatch(node);
    },
    batch(fn) {
      fn();
      flush();
    },
  };
}

function chain(lib: Library, length: number): () => number {
  const source = lib.signal(0);
  let last: { get(): number } = source;
  for (let i = 0; i < length; i++) {
    const before = last;
    last = lib.computed(() => before.get() + 1);
  }
  let seen = 0;
  lib.effect(() => void (seen = last.get()));
  let round = 0;
  return () => {
    lib.batch(() => source.set(++round));
    return seen;
  };
}

function comeAndGo(lib: Library, lastFirst: boolean): () => number {
  const source = lib.signal(1);
  return () => {
    let sum = 0;
    const stops = Array.from({ length: 1000 }, () => lib.effect(() => void (sum += source.get())));
    for (const stop of lastFirst ? stops.reverse() : stops) stop();
    return sum;
  };
}

/** Each makes a graph and returns what is timed; the number it gives is compared between the libraries. */
const shapes: Record<string, (lib: Library) => () => number> = {
  'wide: 1 source, 1,000 effects'(lib) {
    const source = lib.signal(0);
    let sum = 0;
    for (let i = 0; i < 1000; i++) lib.effect(() => void (sum += source.get() + i));
    let round = 0;
    return () => {
      lib.batch(() => source.set(++round));
      return sum;
    };
  },
  'deep: a chain of 500': lib => chain(lib, 500),
  'diamond: 500 between one source and one effect'(lib) {
    const source = lib.signal(0);
    const middle = Array.from({ length: 500 }, (_, i) => lib.computed(() => source.get() + i));
    const end = lib.computed(() => middle.reduce((sum, one) => sum + one.get(), 0));
    let seen = 0;
    lib.effect(() => void (seen = end.get()));
    let round = 0;
    return () => {
      lib.batch(() => source.set(++round));
      return seen;
    };
  },
  'dynamic: 200 that change what they read'(lib) {
    const which = lib.signal(0);
    const sources = Array.from({ length: 10 }, (_, i) => lib.signal(i));
    let sum = 0;
    for (let i = 0; i < 200; i++) {
      const picked = lib.computed(() => sources[(which.get() + i) % 10]!.get());
      lib.effect(() => void (sum += picked.get()));
    }
    let round = 0;
    return () => {
      lib.batch(() => which.set(++round % 10));
      lib.batch(() => sources[round % 10]!.set(round));
      return sum;
    };
  },
  'grid: 10 layers of 50, each reading 4'(lib) {
    const sources = Array.from({ length: 50 }, (_, i) => lib.signal(i));
    let layer: { get(): number }[] = sources;
    for (let depth = 0; depth < 10; depth++) {
      const below = layer;
      layer = below.map((_, i) =>
        lib.computed(
          () =>
            (below[i]!.get() + below[(i + 1) % 50]!.get() + below[(i + 7) % 50]!.get() - below[(i + 9) % 50]!.get()) %
            1000,
        ),
      );
    }
    let sum = 0;
    for (const top of layer) lib.effect(() => void (sum += top.get()));
    let round = 0;
    return () => {
      round++;
      lib.batch(() => sources[round % 50]!.set(round));
      return sum;
    };
  },
  'deep: a chain of 1,000': lib => chain(lib, 1000),
  'diamond: 500 whose middle stays equal'(lib) {
    const source = lib.signal(0);
    const middle = Array.from({ length: 500 }, () => lib.computed(() => Math.min(source.get(), 0)));
    const end = lib.computed(() => middle.reduce((sum, one) => sum + one.get(), 0));
    let runs = 0;
    lib.effect(() => {
      end.get();
      runs++;
    });
    let round = 0;
    return () => {
      lib.batch(() => source.set(++round));
      return runs;
    };
  },
  'come and go: 1,000 effects on one signal': lib => comeAndGo(lib, false),
  'come and go: 1,000 effects, the last first': lib => comeAndGo(lib, true),
  'read once: 1,000 computeds'(lib) {
    const source = lib.signal(1);
    return () => {
      let sum = 0;
      for (let i = 0; i < 1000; i++) sum += lib.computed(() => source.get() + i).get();
      return sum;
    };
  },
  'create: 1,000 signals, computeds and effects'(lib) {
    return () => {
      let sum = 0;
      const stops: (() => void)[] = [];
      for (let i = 0; i < 1000; i++) {
        const source = lib.signal(i);
        const double = lib.computed(() => source.get() * 2);
        stops.push(lib.effect(() => void (sum += double.get())));
      }
      for (const stop of stops) stop();
      return sum;
    };
  },
};

const { values: options } = parseArgs({
  options: { json: { type: 'boolean', default: false }, only: { type: 'string', default: '' } },
});
const median = (numbers: number[]) => numbers.sort((a, b) => a - b)[numbers.length >> 1]!;
const table: Record<string, Record<string, number>> = {};

for (const [shape, make] of Object.entries(shapes)) {
  if (!new RegExp(options.only).test(shape)) continue;
  const runs = libraries.map(library => ({ library, run: make(library), times: [] as number[], last: 0 }));
  // What makes and drops thousands takes long in one of them.
  const [rounds, times] = /^(?:create|come)/.test(shape) ? [20, 3] : [60, 20];
  for (let round = 0; round < rounds; round++) {
    // Interleaved, so that all meet the same weather.
    for (const one of runs) {
      const start = performance.now();
      for (let i = 0; i < times; i++) one.last = one.run();
      if (round >= rounds / 3) one.times.push((performance.now() - start) / times);
    }
  }
  for (const one of runs)
    if (one.last !== runs[0]!.last)
      throw new Error(`${shape}: ${one.library.name} says ${one.last}, eltrix ${runs[0]!.last}`);
  table[shape] = Object.fromEntries(runs.map(({ library, times }) => [library.name, median(times)]));
}

const names = libraries.map(({ name }) => name);
const ratios = Object.fromEntries(
  names.map(name => [
    name,
    Math.exp(
      Object.values(table).reduce((sum, row) => sum + Math.log(row[name]! / row['eltrix']!), 0) /
        Object.keys(table).length,
    ),
  ]),
);
if (options.json) console.log(JSON.stringify({ table, ratios }, null, 2));
else {
  console.log('microseconds'.padEnd(50), ...names.map(name => name.padStart(22)));
  for (const [shape, row] of Object.entries(table))
    console.log(shape.padEnd(50), ...names.map(name => (row[name]! * 1000).toFixed(1).padStart(22)));
  console.log('geometric mean, eltrix = 1'.padEnd(50), ...names.map(name => ratios[name]!.toFixed(2).padStart(22)));
}
