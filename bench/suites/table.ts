import type { Operation, Suite } from './suite.ts';
import { entries, restart, type TableView } from './table-data.ts';

/**
 * The keyed table in a shadow root.
 *
 * @param often how often operations of some microseconds are done, so that their sum is a time that a clock can measure.
 */
export function table(make: () => TableView & HTMLElement, often: number): Suite {
  let view!: TableView & HTMLElement;
  const result = () => {
    const body = view.root.querySelector('tbody')!;
    const text = body.textContent!;
    let hash = 0;
    for (let i = 0; i < text.length; i++) hash = (hash * 31 + text.charCodeAt(i)) | 0;
    return `${body.children.length} rows, chosen ${[...body.querySelectorAll('.chosen')].map(row => row.firstChild!.textContent)}, ${hash}`;
  };
  const start = (count: number) => {
    restart();
    view = make();
    document.body.append(view);
    if (count > 0) view.show(entries(count));
  };
  const operation = (name: string, count: number, run: () => void): Operation => {
    let prepared = () => {};
    return {
      name,
      repeats: /^(?:update|select|swap)/.test(name),
      small: !/10,000/.test(name),
      before() {
        start(count);
        prepared = run;
      },
      run: () => prepared(),
      result,
      after: () => HTMLElement.prototype.remove.call(view),
    };
  };
  return {
    operations: [
      operation('create 1,000', 0, () => view.show(entries(1000))),
      operation('create 10,000', 0, () => view.show(entries(10_000))),
      operation('replace 1,000', 1000, () => view.show(entries(1000))),
      operation('update every 10th of 10,000', 10_000, () => view.updateEveryTenth()),
      operation('select in 1,000', 1000, () => {
        for (let i = 1; i <= often; i++) view.select(((i * 39) % 1000) + 1);
      }),
      operation('swap in 1,000', 1000, () => {
        for (let i = 0; i < often; i++) view.swap(1, 998);
      }),
      operation('remove from 1,000', 1000, () => {
        for (let i = 0; i < often; i++) view.drop(500);
      }),
      operation('append 1,000 to 10,000', 10_000, () => view.add(entries(1000))),
      operation('clear 10,000', 10_000, () => view.clear()),
    ],
  };
}
