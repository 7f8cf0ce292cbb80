import { batch, contract, data, each, effect, markup, matches, signal, text } from 'eltrix';

const counts = [1000, 10_000, 50_000];
const chosen = signal(-1);
const isChosen = matches(chosen);
const shared = signal(0);

class ScaleList extends contract('scale-list', { properties: { rows: data<number[]>(() => []) } }) {
  view() {
    return markup`<ul>${each(
      () => this.rows,
      row => row,
      row => markup`<li class=${() => isChosen(row()) && 'chosen'}>${() => row() + shared.get()}</li>`,
    )}</ul>`;
  }
}
ScaleList.define();

class ScaleCell extends contract('scale-cell', { attributes: { name: text() } }) {
  view() {
    return markup`<b>${() => this.name}</b>`;
  }
}
ScaleCell.define();

const range = (count: number) => Array.from({ length: count }, (_, i) => i);
const timed = (fn: () => void) => {
  const start = performance.now();
  fn();
  return performance.now() - start;
};

/** Each returns milliseconds for a number of rows; layout is not counted, since it is the browser's own. */
const measures: Record<string, (count: number) => number> = {
  'rows that ask for one signal: come'(count) {
    const list = new ScaleList();
    list.style.display = 'none';
    document.body.append(list);
    const time = timed(() => batch(() => void (list.rows = range(count))));
    list.remove();
    return time;
  },
  'rows that ask for one signal: go'(count) {
    const list = new ScaleList();
    list.style.display = 'none';
    document.body.append(list);
    batch(() => void (list.rows = range(count)));
    const time = timed(() => batch(() => void (list.rows = [])));
    list.remove();
    return time;
  },
  'subscribers of one signal: told'(count) {
    let sum = 0;
    const stops = range(count).map(i => effect(() => void (sum += shared.get() + i)));
    const time = timed(() => batch(() => shared.set(shared.peek() + 1)));
    for (const stop of stops) stop();
    return time;
  },
  'instances: come and go'(count) {
    const host = document.createElement('div');
    host.style.display = 'none';
    document.body.append(host);
    return timed(() => {
      for (let i = 0; i < count; i++) host.append(new ScaleCell());
      host.remove();
    });
  },
};

async function measure() {
  const results = [];
  for (const [name, run] of Object.entries(measures)) {
    const microseconds: number[] = [];
    for (const count of counts) {
      const times: number[] = [];
      for (let i = 0; i < 5; i++) {
        await new Promise(resolve => setTimeout(resolve));
        times.push(run(count));
      }
      microseconds.push((times.sort((a, b) => a - b)[2]! * 1000) / count);
    }
    results.push({ name, counts, microseconds });
  }
  return results;
}

Object.assign(globalThis, { measured: measure() });
