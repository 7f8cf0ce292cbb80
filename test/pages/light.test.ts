import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import { contract, integer, markup, settled, slot, stylesheet, text } from 'eltrix';
import Sortable from 'sortablejs';
import { html, put } from './support.ts';

class LightCard extends contract('light-card', {
  shadow: 'none',
  attributes: { name: text(), level: integer() },
  slots: { '': slot('Notes.'), head: slot('The head.') },
}) {
  static styleSheets = [
    stylesheet`:host { display: block } :host([name]) h4 { color: rgb(1, 2, 3) } p { color: rgb(4, 5, 6) } @keyframes spin { to { rotate: 1turn } }`,
  ];
  view() {
    return markup`<h4>${() => this.name}</h4><slot name="head"><i>no head</i></slot><p>inside</p>${() => this.level > 1 && markup`<slot name="extra"></slot>`}<div><slot></slot></div>`;
  }
}
LightCard.define();

const shown = (element: Element) => element.textContent!.replace(/\s+/g, ' ').trim();

describe("shadow: 'none'", () => {
  it('shows the view in the element, and content in its slots', async () => {
    const element = put<LightCard>('<light-card name="N"><b slot="head">H</b><u>one</u>text</light-card>');
    assert.equal(element.shadowRoot, null);
    assert.equal(shown(element), 'NHinsideonetext');
    assert.deepEqual(
      element.slotted('head').map(e => e.localName),
      ['b'],
    );
    element.name = 'M';
    await settled();
    assert.equal(element.querySelector('h4')!.textContent, 'M');
  });

  it('follows added, removed and reassigned content, and shows fallbacks', async () => {
    const element = put<LightCard>('<light-card><b slot="head">H</b></light-card>');
    const bold = element.querySelector('b')!;
    element.append(Object.assign(document.createElement('u'), { textContent: 'late' }));
    await settled();
    assert.equal(element.querySelector('u')!.parentElement!.localName, 'slot');
    assert.equal(shown(element), 'Hinsidelate');
    bold.slot = '';
    await settled();
    assert.equal(shown(element), 'no headinsideHlate');
    bold.remove();
    element.querySelector('u')!.remove();
    await settled();
    assert.equal(shown(element), 'no headinside');
  });

  it('does not move remaining children: focus, selection and frames are kept', async () => {
    let left = 0;
    customElements.define(
      'stay-here',
      class extends HTMLElement {
        disconnectedCallback() {
          left++;
        }
      },
    );
    const element = put<LightCard>(
      '<light-card><u>first</u><input value="honey"><stay-here></stay-here><b>last</b></light-card>',
    );
    left = 0;
    const input = element.querySelector('input')!;
    input.focus();
    input.setSelectionRange(1, 3);
    element.append(Object.assign(document.createElement('u'), { textContent: 'more' }));
    await settled();
    element.querySelector('u')!.remove();
    await settled();
    element.querySelector('b')!.slot = 'head';
    await settled();
    assert.equal(shown(element), 'lastinsidemore');
    assert.deepEqual([document.activeElement, left, input.selectionStart, input.selectionEnd], [input, 0, 1, 3]);
  });

  it('content without a slot waits for one', async () => {
    const element = put<LightCard>('<light-card><em slot="extra">E</em></light-card>');
    assert.equal(shown(element), 'no headinside');
    element.level = 2;
    await settled();
    await settled();
    assert.equal(shown(element), 'no headinsideE');
    element.level = 1;
    await settled();
    await settled();
    assert.equal(shown(element), 'no headinside');
    element.level = 2;
    await settled();
    await settled();
    assert.equal(shown(element), 'no headinsideE');
  });

  it('keeps its view around content that replaces all of its nodes', async () => {
    const element = put<LightCard>('<light-card name="N" level="2"><b slot="head">H</b><u>one</u></light-card>');
    element.textContent = 'text';
    await settled();
    assert.equal(shown(element), 'Nno headinsidetext');
    element.name = 'M';
    element.innerHTML = html('<i slot="extra">more</i><b slot="head">K</b>');
    element.level = 1;
    await settled();
    assert.equal(shown(element), 'MKinside');
    element.level = 3;
    await settled();
    assert.equal(shown(element), 'MKinsidemore');
    assert.equal(element.slotted('head').length, 1);
    while (element.lastChild) element.lastChild.remove();
    element.append('again');
    await settled();
    assert.equal(shown(element), 'Mno headinsideagain');
    element.replaceChildren();
    await settled();
    assert.equal(shown(element), 'Mno headinside');
    const parent = element.parentElement!;
    element.remove();
    element.innerHTML = html('<u>away</u>');
    element.name = 'L';
    parent.append(element);
    assert.equal(shown(element), 'Lno headinsideaway');
    assert.deepEqual(element.querySelectorAll('h4').length, 1);
  });

  it('is not duplicated by reconnecting, nor in a clone', async () => {
    const element = put<LightCard>('<light-card name="N"><u>one</u></light-card>');
    const before = shown(element);
    const parent = element.parentElement!;
    element.remove();
    element.append(Object.assign(document.createElement('u'), { textContent: 'two' }));
    parent.append(element);
    assert.equal(shown(element), `${before}two`);
    const copy = element.cloneNode(true) as LightCard;
    document.body.append(copy);
    await settled();
    assert.equal(shown(copy), `${before}two`);
    copy.name = 'copied';
    await settled();
    assert.equal(copy.querySelector('h4')!.textContent, 'copied');
  });

  it('its styles stay inside; page styles apply; the sheet is removed with the last element', () => {
    const first = put<LightCard>('<light-card></light-card>');
    const sheets = document.adoptedStyleSheets.length;
    first.remove();
    for (const old of document.querySelectorAll('light-card')) old.remove();
    assert.equal(document.adoptedStyleSheets.length, sheets - 1);
    const element = put<LightCard>('<light-card name="N"><p>given</p></light-card>');
    const outside = put('<p>outside</p>');
    const [own, given] = element.querySelectorAll('p');
    const colour = (e: Element) => getComputedStyle(e).color;
    assert.equal(colour(own!), 'rgb(4, 5, 6)');
    assert.notEqual(colour(given!), 'rgb(4, 5, 6)');
    assert.notEqual(colour(outside), 'rgb(4, 5, 6)');
    assert.equal(colour(element.querySelector('h4')!), 'rgb(1, 2, 3)');
    assert.equal(getComputedStyle(element).display, 'block');
    const page = new CSSStyleSheet();
    page.replaceSync('light-card p { margin-left: 7px }');
    document.adoptedStyleSheets.push(page);
    assert.equal(getComputedStyle(own!).marginLeft, '7px');
    document.adoptedStyleSheets.pop();
    assert.equal(document.adoptedStyleSheets.length, sheets);
  });

  it('works with a library that moves its content', async () => {
    class SortBox extends contract('sort-box', { shadow: 'none' }) {
      declare sortable: Sortable;
      view() {
        return markup`<h4>${() =>
          this.slotted()
            .map(e => e.id)
            .join('')}</h4><slot></slot>`;
      }
      assembled() {
        this.sortable = new Sortable(this.querySelector('slot')!, { dataIdAttr: 'id' });
      }
    }
    SortBox.define();
    const element = put<SortBox>('<sort-box><u id="a">a</u><u id="b">b</u><u id="c">c</u></sort-box>');
    await settled();
    assert.equal(element.querySelector('h4')!.textContent, 'abc');
    element.sortable.sort(['c', 'a', 'b']);
    await settled();
    await settled();
    assert.equal(element.querySelector('h4')!.textContent, 'cab');
    assert.equal(shown(element), 'cabcab');
    element.sortable.destroy();
  });
});
