import { batch } from 'eltrix';
import type { Operation, Suite } from './suite.ts';

export interface TreeElement extends HTMLElement {
  depth: number;
  value: number;
}

/** 3,280 nested elements, three below each, with one value passed down by property. */
export function tree(): Suite {
  let top!: TreeElement;
  const make = () => {
    top = document.createElement('tree-node') as TreeElement;
    top.depth = 7;
    top.value = 1;
    document.body.append(top);
  };
  const result = () => {
    let [count, sum] = [0, 0];
    const visit = (element: Element) => {
      count++;
      sum += Number(element.shadowRoot!.firstElementChild!.textContent);
      for (const child of element.shadowRoot!.querySelectorAll('tree-node')) visit(child);
    };
    visit(top);
    return `${count} nodes, sum ${sum}`;
  };
  const operation = (name: string, made: boolean, run: () => void): Operation => ({
    name,
    repeats: made,
    before: () => made && make(),
    run: () => batch(run),
    result,
    after: () => top.remove(),
  });
  return {
    operations: [
      operation('create', false, make),
      operation('change the value', true, () => {
        top.value++;
      }),
    ],
  };
}
