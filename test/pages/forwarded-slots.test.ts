// A slot that passes the content of an outer element on: what is in it counts, not the `<slot>` itself.
import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import { choice, contract, markup, settled, slot } from 'eltrix';
import { stage } from 'eltrix-tool/testing';
import { compiled, heard, inside } from './support.ts';

const slots = { '': slot('The text.', { required: true }), icon: slot('A picture.', { accepts: 'img, svg' }) };

class InnerNote extends contract('inner-note', { slots }) {
  view() {
    return markup`${() => this.isFilled('icon') && markup`<figure><slot name="icon"></slot></figure>`}<slot></slot>`;
  }
}
InnerNote.define();

class InnerLight extends contract('inner-light', { shadow: 'none', slots }) {
  view() {
    return markup`${() => this.isFilled('icon') && markup`<figure><slot name="icon"></slot></figure>`}<slot></slot>`;
  }
}
InnerLight.define();

class OuterNote extends contract('outer-note', {
  attributes: { passes: choice(['picture', 'none'], { missing: 'picture', invalid: 'none' }) },
  slots: { '': slot('The text.'), picture: slot('A picture.'), other: slot('Another one.') },
}) {
  view() {
    return markup`<inner-note><slot name=${() => this.passes} slot="icon"></slot><slot></slot></inner-note>
      <inner-light><slot name="other" slot="icon"></slot><p>text</p></inner-light>`;
  }
}
OuterNote.define();

class OuterDefault extends contract('outer-default', { slots: { picture: slot('A picture.') } }) {
  view() {
    return markup`<inner-note><slot name="picture" slot="icon"><img alt="none"></slot>text</inner-note>`;
  }
}
OuterDefault.define();

/** In one test only: each warning comes once. */
class CheckedNote extends contract('checked-note', { slots }) {
  view() {
    return markup`<slot name="icon"></slot><slot></slot>`;
  }
}
CheckedNote.define();

class OuterChecked extends contract('outer-checked', {
  slots: { '': slot('The text.'), picture: slot('A picture.') },
}) {
  view() {
    return markup`<checked-note><slot name="picture" slot="icon"></slot><slot></slot></checked-note>`;
  }
}
OuterChecked.define();

const image = (slot: string) => Object.assign(document.createElement('img'), { slot });

describe('a forwarded slot', () => {
  it('is filled if the outer element has content for it', async () => {
    const outer = await stage<OuterNote>('<outer-note>text</outer-note>');
    const inner = inside<InnerNote>(outer, 'inner-note');
    const hasFigure = () => inner.shadowRoot!.querySelector('figure') !== null;
    await settled();
    assert.deepEqual([hasFigure(), inner.isFilled('')], [false, true]);
    outer.append(image('picture'));
    await settled();
    assert.deepEqual([hasFigure(), inner.isFilled('icon')], [true, true]);
    outer.firstChild!.nodeValue = ' ';
    outer.querySelector('img')!.slot = 'none';
    await settled();
    assert.deepEqual([hasFigure(), inner.isFilled('')], [false, false]);
    outer.passes = 'none';
    await settled();
    assert.equal(hasFigure(), true, 'the slot has another name');
    outer.querySelector('img')!.remove();
    await settled();
    assert.equal(hasFigure(), false);
  });

  it('is filled in an element without a shadow root', async () => {
    const outer = await stage<OuterNote>('<outer-note>text</outer-note>');
    const inner = inside<InnerLight>(outer, 'inner-light');
    const hasFigure = () => inner.querySelector('figure') !== null;
    await settled();
    assert.equal(hasFigure(), false);
    outer.append(image('other'));
    await settled();
    assert.equal(hasFigure(), true);
    outer.querySelector('img')!.remove();
    await settled();
    assert.equal(hasFigure(), false);
  });

  it('is filled by its fallback', async () => {
    const outer = await stage<OuterDefault>('<outer-default></outer-default>');
    await settled();
    assert.ok(inside(outer, 'inner-note').shadowRoot!.querySelector('figure'));
  });

  it('is checked by what is in it', async t => {
    if (compiled) return t.skip('a built element has no words');
    const { warnings } = await heard(async () => {
      await stage('<outer-checked>text<img slot="picture" alt=""></outer-checked>');
      await settled();
      await settled();
    });
    assert.deepEqual(warnings, []);
    const { warnings: two } = await heard(async () => {
      await stage('<outer-checked><b slot="picture">B</b></outer-checked>');
      await settled();
      await settled();
    });
    assert.equal(two.length, 2);
    assert.match(two.join('\n'), /slot-required/);
    assert.match(two.join('\n'), /slot-accepts.*<b> is in it/);
  });
});
