/** Elements in the document of another window, as of a frame or picture-in-picture: nodes there have other classes. */
import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import { contract, each, flag, integer, markup, type Signal, settled, signal, slot, sync, text } from 'eltrix';
import { eachInView, fromTemplate, handleErrors, leaving, region } from 'eltrix/views';
import { stage, waitFor } from 'eltrix-tool/testing';

async function otherDocument(): Promise<Document> {
  return (await stage<HTMLIFrameElement>('<iframe></iframe>')).contentDocument!;
}

class OtherFields extends contract('other-fields', { attributes: { open: flag() } }) {
  readonly field = signal('a');
  readonly number = signal(1);
  readonly agreed = signal(false);
  readonly radio = signal('x');
  readonly chosen = signal('b');
  readonly several = signal<readonly string[]>(['a', 'c']);
  readonly words = signal('two\nlines');

  view() {
    return markup`${() =>
      this.open &&
      markup`<input ${sync(this.field)}><input type="number" ${sync(this.number)}><input type="checkbox" ${sync(this.agreed)}>
        <input type="radio" name="r" value="x" ${sync(this.radio)}><input type="radio" name="r" value="y" ${sync(this.radio)}>
        <select ${sync(this.chosen)}><option>a</option><option>b</option></select>
        <select multiple ${sync(this.several)}><option>a</option><option>b</option><option>c</option></select>
        <textarea ${sync(this.words)}></textarea>`}`;
  }
}
OtherFields.define();

class OtherLevel extends contract('other-level', { attributes: { level: integer() } }) {
  view() {
    return markup`<s>${() => 'x'.repeat(this.level)}</s>`;
  }
}
OtherLevel.define();

class OtherRegion extends contract('other-region', {}) {
  readonly level = signal(-1);

  view() {
    const level = () => this.level.get();
    return markup`${region(
      () =>
        markup`${() => level() >= 0 && markup`<b>${() => 'x'.repeat(3 - level())}</b>`}${() => level() >= 0 && markup`<other-level level=${level}></other-level>`}`,
      () => 'failed',
    )}`;
  }
}
OtherRegion.define();

const slots = { '': slot('Text.'), head: slot('Above.') };

class OtherShadow extends contract('other-shadow', { slots }) {
  view() {
    return markup`<slot name="head">none</slot><slot></slot><i>${() => `${this.slotted('head').length} ${this.slotted().length} ${this.isFilled('head')}`}</i>`;
  }
}
OtherShadow.define();

class OtherLight extends contract('other-light', { shadow: 'none', slots }) {
  view() {
    return markup`<u><slot name="head">none</slot></u><p><slot></slot></p><i>${() => `${this.slotted('head').length} ${this.slotted().length} ${this.isFilled('head')}`}</i>`;
  }
}
OtherLight.define();

class OtherTemplate extends contract('other-template', { attributes: { name: text() } }) {
  readonly template: Signal<HTMLTemplateElement | undefined> = signal<HTMLTemplateElement | undefined>(undefined);

  view() {
    return markup`${() => this.template.get() && fromTemplate(this.template.get()!, { name: this.name })}`;
  }
}
OtherTemplate.define();

class OtherRows extends contract('other-rows', {}) {
  readonly rows = eachInView(
    Array.from({ length: 500 }, (_, index) => index),
    row => row,
    row => markup`<p style="height: 30px; margin: 0">${() => row()}</p>`,
    { margin: 0, estimate: 30 },
  );

  view() {
    return markup`${this.rows}`;
  }
}
OtherRows.define();

class OtherLeaving extends contract('other-leaving', {}) {
  readonly rows = signal(['a', 'b']);

  view() {
    return markup`${each(
      () => this.rows.get(),
      row => row,
      row => markup`<p ${leaving([{ opacity: 1 }, { opacity: 0 }], 60_000)}>${row}</p>`,
    )}`;
  }
}
OtherLeaving.define();

describe('an element in another document', () => {
  it('synchronizes fields that are made there', async () => {
    const there = await otherDocument();
    const element = new OtherFields();
    there.body.append(element);
    element.open = true;
    await settled();
    const [field, number, box, first, second] = element.shadowRoot!.querySelectorAll('input');
    const [one, many] = element.shadowRoot!.querySelectorAll('select');
    const area = element.shadowRoot!.querySelector('textarea')!;
    const shown = () => [
      field!.value,
      number!.valueAsNumber,
      box!.checked,
      first!.checked,
      second!.checked,
      one!.value,
      [...many!.selectedOptions].map(({ value }) => value).join(''),
      area.value,
    ];
    assert.deepEqual(shown(), ['a', 1, false, true, false, 'b', 'ac', 'two\nlines']);
    field!.value = 'b';
    number!.value = '2';
    box!.checked = true;
    second!.checked = true;
    one!.value = 'a';
    many!.options[2]!.selected = false;
    for (const changed of [field, number, box, second, one, many])
      changed!.dispatchEvent(new Event('input', { bubbles: true }));
    assert.deepEqual(
      [element.field, element.number, element.agreed, element.radio, element.chosen, element.several].map(one =>
        one.get(),
      ),
      ['b', 2, true, 'y', 'a', ['a']],
    );
    element.agreed.set(false);
    element.radio.set('x');
    element.several.set(['b']);
    await settled();
    assert.deepEqual(shown(), ['b', 2, false, true, false, 'a', 'b', 'two\nlines']);
  });

  it('makes custom elements there, and shows the fallback for what fails there', async t => {
    const stop = handleErrors(() => true);
    t.after(stop);
    const there = await otherDocument();
    const element = new OtherRegion();
    there.body.append(element);
    const seen: string[] = [];
    for (const level of [2, 4, 1]) {
      element.level.set(level);
      await settled();
      const inner = element.shadowRoot!.querySelector('other-level')?.shadowRoot;
      seen.push(`${element.shadowRoot!.textContent} ${inner?.textContent}`);
    }
    (await stage('<main></main>')).append(element);
    element.level.set(5);
    await settled();
    seen.push(element.shadowRoot!.textContent);
    assert.deepEqual(seen, ['x xx', 'failed undefined', 'xx x', 'failed']);
  });

  it('knows the content that is made there', async () => {
    const there = await otherDocument();
    for (const Class of [OtherShadow, OtherLight]) {
      const element = new Class();
      there.body.append(element);
      const head = there.createElement('b');
      head.slot = 'head';
      head.append('head');
      element.append(head, there.createElement('em'), there.createTextNode('text'));
      await settled();
      await new Promise(resolve => setTimeout(resolve));
      const root = element.shadowRoot ?? element;
      const shown = () => root.querySelector('i')!.textContent;
      assert.equal(shown(), '1 1 true', element.localName);
      if (Class === OtherLight) assert.equal(root.querySelector('u')!.textContent, 'head');
      head.slot = '';
      await settled();
      await new Promise(resolve => setTimeout(resolve));
      assert.equal(shown(), '0 2 false', element.localName);
      if (Class === OtherLight) assert.equal(root.querySelector('u')!.textContent, 'none');
    }
  });

  it('fills a template of that document', async () => {
    const there = await otherDocument();
    const template = there.createElement('template');
    const name = there.createElement('b');
    name.setAttribute('itemprop', 'name');
    template.content.append(name);
    const element = new OtherTemplate();
    element.name = 'Bramble';
    there.body.append(element);
    element.template.set(template);
    await settled();
    assert.equal(element.shadowRoot!.querySelector('b')?.textContent, 'Bramble');
  });

  it('shows the rows near the viewport of that window', async () => {
    const there = await otherDocument();
    there.defaultView!.frameElement!.setAttribute('style', 'height: 150px; border: 0');
    there.body.style.margin = '0';
    const element = new OtherRows();
    there.body.append(element);
    const rows = () => [...element.shadowRoot!.querySelectorAll('p')].map(({ textContent }) => textContent);
    await waitFor(() => assert.deepEqual([rows().at(0), rows().length < 10], ['0', true]));
    there.defaultView!.scrollTo(0, 3000);
    await waitFor(() => assert.ok(rows().includes('101') && rows().length < 10));
  });

  it('lets rows leave there', async t => {
    if (matchMedia('(prefers-reduced-motion: reduce)').matches) return t.skip();
    const there = await otherDocument();
    const element = new OtherLeaving();
    there.body.append(element);
    element.rows.set(['b']);
    await new Promise(resolve => setTimeout(resolve));
    assert.equal(element.shadowRoot!.textContent, 'ab');
    for (const animation of element.shadowRoot!.querySelector('p')!.getAnimations()) animation.finish();
    await waitFor(() => assert.equal(element.shadowRoot!.textContent, 'b'));
  });
});
