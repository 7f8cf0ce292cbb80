/** Texts that others replace on the page, as translators and highlighters do: what changes afterwards is shown. */
import assert from 'node:assert/strict';
import { it } from 'node:test';
import { contract, data, each, integer, live, markup, settled, text } from 'eltrix';
import { environment, stage } from 'eltrix-tool/testing';
import { random, seed } from '../support/random.ts';

class PlainTexts extends contract('plain-texts', { attributes: { name: text(), count: integer() } }) {
  view() {
    return markup`<h3>${() => this.name}</h3><p>Boxes: ${() => this.count} of ${() => this.count * 2}.</p>
      <p>${() => (this.count > 2 ? markup`<b>more</b> than ${() => this.count}` : 'few')}</p>`;
  }
}
PlainTexts.define();

const attributes = { name: text(), count: integer() };
const properties = {
  some: data<unknown>(() => 'nothing'),
  parts: data<readonly string[]>(() => ['x', 'y']),
  rows: live<string[]>(() => ['a', 'b', 'c']),
};

function view(this: {
  localName: string;
  name: string;
  count: number;
  some: unknown;
  parts: readonly string[];
  rows: readonly string[];
}) {
  return markup`<h3>${() => this.name}</h3><p>Boxes: ${() => this.count} of ${() => this.count * 2}.</p>
    <p>${() => this.some}</p><p>Some: ${() => this.some}, ${() => this.name}</p>
    <p>There are ${() => (this.count > 2 ? markup`<b>very</b> many` : 'few')} in ${() => this.name}.</p>
    <p>${() => this.count > 2 && markup`<b>more</b> than ${() => this.count}`}</p>
    <p>${() => this.some} are <b>${() => this.some}</b> of ${() => this.parts}, ${() => this.some}<i>${() => this.parts}</i>
      ${() => this.some}<input value=${() => this.name}>${() => this.some} or ${() => this.some}</p>
    <p>${() => this.some} and ${() => this.name}<b>x</b>${() => this.name} of ${() => this.count}, ${this.localName} ${() => this.parts}</p>
    <p>Note<!-- of the author -->: ${() => this.some}<!-- and --> ${() => this.some}.</p>
    <p>${() => this.parts}</p><p>Parts: ${() => this.parts}.</p>
    <ul>${each(
      () => this.rows,
      row => row,
      row => markup`<li>${row}</li><li>Row ${() => row()} of ${() => this.name}</li>`,
    )}</ul>`;
}

class ShadowTexts extends contract('shadow-texts', { attributes, properties }) {
  view() {
    return view.call(this);
  }
}
ShadowTexts.define();

class LightTexts extends contract('light-texts', { shadow: 'none', attributes, properties }) {
  view() {
    return view.call(this);
  }
}
LightTexts.define();

function textsIn(root: Node): Text[] {
  const walker = document.createTreeWalker(root, NodeFilter.SHOW_TEXT);
  const texts: Text[] = [];
  while (walker.nextNode()) texts.push(walker.currentNode as Text);
  return texts.filter(text => text.data.trim() !== '' && text.parentElement?.localName !== 'font');
}

/** What others do with the texts below a node. */
const disturbances: Record<string, (root: Node) => void> = {
  // As browsers do that translate pages.
  translate(root) {
    for (const text of textsIn(root)) {
      const font = document.createElement('font');
      font.append(document.createElement('font'));
      font.firstChild!.textContent = text.data.toUpperCase();
      text.replaceWith(font);
    }
  },
  highlight(root) {
    for (const text of textsIn(root)) {
      if (text.length < 2) continue;
      const rest = text.splitText(text.length >> 1);
      const mark = document.createElement('mark');
      rest.replaceWith(mark);
      mark.append(rest);
    }
  },
  replace(root) {
    for (const text of textsIn(root)) text.replaceWith(text.data);
  },
  normalize(root) {
    for (const text of textsIn(root)) text.parentNode?.normalize();
  },
};

const programs = 40;
const steps = 12;

/** Elements that others must not replace. */
const kept = (element: Element) => (element.shadowRoot ?? element).querySelector('input');

for (const tag of ['plain-texts', 'shadow-texts', 'light-texts'])
  it(`<${tag}>: ${programs} random programs of ${steps} changes`, {
    skip: environment.engine === 'simulated' && 'it has no TreeWalker',
  }, async () => {
    for (let program = 0; program < programs; program++) {
      const next = random(seed + program);
      const state: Record<string, unknown> = { name: 'anna', count: 1 };
      const make = async () => {
        const element = (await stage(`<${tag}></${tag}>`)) as HTMLElement & Record<string, unknown>;
        Object.assign(element, state);
        await settled();
        return element;
      };
      const shown = (element: Element) => (element.shadowRoot ?? element).textContent!.toLowerCase();
      const element = await make();
      const journey: string[] = [];
      const field = kept(element);
      for (let step = 0; step < steps; step++) {
        const [what, disturb] = Object.entries(disturbances)[next(4)]!;
        if (next(2)) {
          journey.push(what);
          disturb(element.shadowRoot ?? element);
        }
        const changes: Record<string, () => unknown> = {
          name: () => ['anna', 'berta', '', 'cleo & co'][next(4)],
          count: () => next(6),
          ...(tag !== 'plain-texts' && {
            some: () => ['nothing', '', 7, null, markup`<i>this</i>`, markup`that <i>one</i>`, ['p', 'q']][next(7)],
            parts: () => ['x', 'y', 'z', 'xy'].slice(next(3), 1 + next(4)),
            rows: () => ['a', 'b', 'c', 'd'].filter(() => next(3)).sort(() => next(3) - 1),
          }),
        };
        for (const [name, value] of Object.entries(changes)) {
          if (next(2)) continue;
          element[name] = state[name] = value();
          journey.push(`${name} = ${JSON.stringify(state[name])}`);
        }
        await settled();
        const text = shown(element);
        const fresh = await make();
        assert.deepEqual({ journey, text }, { journey, text: shown(fresh) });
        fresh.remove();
        assert.equal(kept(element), field);
      }
      element.remove();
    }
  });

class FieldBeside extends contract('field-beside', { attributes: { count: integer() } }) {
  view() {
    return markup`<p>${() => this.count > 0 && markup`<input title=${this.count}>`}</p><p>${() => `Boxes: ${this.count}`}</p><s>${() => this.count}</s>`;
  }
}
FieldBeside.define();

it('keeps what others insert beside markup', async () => {
  const element = await stage<FieldBeside>('<field-beside count="1"></field-beside>');
  const field = element.shadowRoot!.querySelector('input')!;
  field.after(document.createElement('button'));
  const texts = element.shadowRoot!.querySelectorAll('p, s');
  for (const text of texts) text.append(document.createElement('hr'));
  element.count++;
  await settled();
  assert.deepEqual(
    Array.from(texts, text => text.querySelectorAll('hr').length),
    [1, 1, 1],
  );
  for (const disturb of Object.values(disturbances)) {
    disturb(element.shadowRoot!);
    element.count++;
    await settled();
    const [first, second] = element.shadowRoot!.querySelectorAll('p');
    assert.equal(first!.firstElementChild, field);
    assert.equal(field.nextElementSibling?.localName, 'button');
    assert.equal(field.title, String(element.count));
    assert.equal(second!.textContent, `Boxes: ${element.count}`);
  }
});
