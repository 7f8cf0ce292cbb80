import { batch } from 'eltrix';
import type { Operation, Suite } from './suite.ts';

export interface CardElement extends HTMLElement {
  name: string;
  boxes: number;
  mood: string;
}

const count = 5000;

/** 5,000 cards: three attributes, two slots, one event. `settle` shows what is pending. */
export function cards(): Suite {
  let host!: HTMLElement;
  const all = () => host.children as unknown as Iterable<CardElement> & { length: number };
  const result = () => {
    const list = [...all()];
    const text = list.map(card => card.shadowRoot?.textContent ?? '').join();
    let hash = 0;
    for (let i = 0; i < text.length; i++) hash = (hash * 31 + text.charCodeAt(i)) | 0;
    return `${list.length} cards, ${hash}`;
  };
  const html = Array.from(
    { length: count },
    (_, i) => `<bench-card name="Hive ${i}" boxes="${i % 5}" mood="busy"><i slot="badge">b</i>note</bench-card>`,
  ).join('');
  const start = (filled: boolean) => {
    host = document.createElement('div');
    document.body.append(host);
    if (filled) host.innerHTML = html;
  };
  const operation = (name: string, filled: boolean, run: () => void): Operation => ({
    name,
    before: () => start(filled),
    run: () => batch(run),
    result,
    after: () => host.remove(),
  });
  return {
    operations: [
      operation('by the parser', false, () => {
        host.innerHTML = html;
      }),
      operation('by createElement', false, () => {
        const fragment = document.createDocumentFragment();
        for (let i = 0; i < count; i++) {
          const card = document.createElement('bench-card') as CardElement;
          card.setAttribute('name', `Hive ${i}`);
          card.setAttribute('boxes', `${i % 5}`);
          card.append('note');
          fragment.append(card);
        }
        host.append(fragment);
      }),
      operation('attribute storm', true, () => {
        for (const card of all()) {
          for (let i = 0; i < 4; i++) card.setAttribute('boxes', `${i + 7}`);
          card.setAttribute('name', 'stormy');
          card.setAttribute('mood', 'calm');
        }
      }),
      operation('property storm', true, () => {
        for (const card of all()) {
          for (let i = 0; i < 4; i++) card.boxes = card.boxes + i;
          card.name = `${card.name}!`;
          card.mood = 'calm';
        }
      }),
      operation('remove and re-append', true, () => {
        const list = [...all()];
        for (const card of list) card.remove();
        host.append(...list);
      }),
    ],
  };
}
