/** Random style sheets look the same with and without a shadow root. */
import assert from 'node:assert/strict';
import { it } from 'node:test';
import { contract, markup, stylesheet } from 'eltrix';
import { random } from '../support/random.ts';
import { put } from './support.ts';

const selectors =
  'p|b|*|.a|.b|[title]|[title=":host"]|i:first-child|b:not(.a)|:is(p, .b)|section > p|p + b|section :is(b, i)|.a.b|p::before|b::after|#id|article p|p:nth-child(2)|:root p|body p|:where(.a) b|p:has(b)|i:empty|.host|:host|:host([name])|:host(.k)|:host(:not(.k))|:host > p|:host([name]) b|:host(.k) > section p|:host::before|:host([title="a)b"]) p|:host b, .a'.split(
    '|',
  );
const declarations =
  'color: red|color: var(--c)|background: green|border: 1px solid|border: var(--b)|border-color: blue|margin: 4px|margin: var(--m)|margin-left: 9px|display: block|content: ":host } {"|content: "x"|font: italic 12px serif|font: var(--f)|font-size: 20px|animation: go 2s|animation-name: other|--c: purple|--b: 2px solid lime|--m: 1px 3px|--f: bold 17px monospace|color: green !important|opacity: .5|inset: var(--m)|top: 4px|background: url(data:,a;b{c}) red|--q: { a: b }|all: unset|outline: thin solid|container-type: inline-size|overflow: hidden|columns: 2'.split(
    '|',
  );
const groups = [
  '@media screen',
  '@media print',
  '@supports (display: grid)',
  '@layer one',
  '@layer two',
  '@container (min-width: 1px)',
];
const compared =
  'color background-color border-top-width border-top-style border-left-color margin-left margin-top display width content animation-name font-size font-style font-weight opacity inset top outline-style container-type overflow-x column-count --c --b --q'.split(
    ' ',
  );

function randomCss(below: (below: number) => number): string {
  const pick = <T>(list: readonly T[]): T => list[below(list.length)]!;
  const block = () => Array.from({ length: 1 + below(4) }, () => pick(declarations)).join('; ');
  const rule = (depth: number): string => {
    const kind = below(depth < 2 ? 12 : 6);
    if (kind > 9) return `${pick(groups)} { ${rule(depth + 1)} ${rule(depth + 1)} }`;
    if (kind === 9 && depth === 0)
      return `@keyframes ${pick(['go', 'other'])} { from { color: red } to { color: blue } }`;
    if (kind === 8)
      return `${pick(['p', '.a'])} { ${block()}; ${pick(['& b', '> b', '&.b', '@media screen'])} { ${block()} } ${block()} }`;
    // The last one has a brace too many, which spoils the selector after it.
    return `${pick(['', '/* :host( } */ ', below(6) ? '' : '} '])}${pick(selectors)}${below(5) ? '' : `, ${pick(selectors)}`} { ${block()} }`;
  };
  return Array.from({ length: 3 + below(6) }, () => rule(0)).join('\n');
}

let made = 0;

function shown(css: string, shadow: 'open' | 'none', attributes: string): Element[] {
  // A dot in a tag has to be escaped in selectors.
  const tag = `${shadow}-styles.${made++}`;
  class Styled extends contract(tag as 'made-styles', shadow === 'none' ? { shadow } : {}) {
    static styleSheets = [stylesheet`${css}`];
    view() {
      return markup`<section title="x y"><p class="a">One <b class="b">two</b><i></i></p><p title=":host"><b>x</b><i>y</i></p><b class="a b">k</b></section><p id="id">t</p><b>u</b>`;
    }
  }
  Styled.define();
  const element = put(`<${tag}${attributes}></${tag}>`);
  return [element, ...(element.shadowRoot ?? element).querySelectorAll('*')];
}

it('looks the same', () => {
  for (let round = 0; round < 60; round++) {
    const below = random(Math.floor(Math.random() * 2 ** 31));
    const css = randomCss(below);
    const attributes = ['', ' name', ' class="k"', ' name class="k a"', ' title="a)b"'][below(5)]!;
    const [roots, lights] = [shown(css, 'open', attributes), shown(css, 'none', attributes)];
    assert.equal(lights.length, roots.length);
    for (const [at, element] of roots.entries())
      for (const pseudo of [undefined, '::before', '::after']) {
        const [there, here] = [getComputedStyle(element, pseudo), getComputedStyle(lights[at]!, pseudo)];
        for (const name of compared) {
          const [expected, seen] = [there.getPropertyValue(name), here.getPropertyValue(name)];
          const what = `${name} of <${element.localName}>${pseudo ?? ''}, element ${at}`;
          assert.equal(seen, expected, `${what} with${attributes}:\n${css}`);
        }
      }
    roots[0]!.remove();
    lights[0]!.remove();
  }
});

it('follows a sheet that is replaced', () => {
  const sheet = stylesheet`p { color: rgb(1, 2, 3) }`;
  class Replaced extends contract('replaced-styles', { shadow: 'none' }) {
    static styleSheets = [sheet];
    view() {
      return markup`<p>One</p>`;
    }
  }
  Replaced.define();
  const element = put('<replaced-styles></replaced-styles>');
  sheet.replace(':host > p { color: rgb(4, 5, 6) }');
  assert.equal(getComputedStyle(element.querySelector('p')!).color, 'rgb(4, 5, 6)');
});
