/** Properties of the platform's elements give the attributes that they give in a browser, when a server writes them. */
import assert from 'node:assert/strict';
import { after, it } from 'node:test';
import { contract, type Markup, markup, signal, sync } from 'eltrix';
import { renderElement, renderMarkup } from 'eltrix/server';
import { engines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { closeEngines, open } from '../support/project.ts';

/** HTML's elements that stand in a view, and whose text is not code. */
const tags = `a abbr area article audio b blockquote button canvas caption col colgroup data datalist del details dialog
div dl embed fieldset form h1 hr iframe img input ins label legend li link map menu meta meter object ol optgroup option
output p pre progress q section select slot source span table tbody td textarea tfoot th thead time tr track ul video`;

/** Obsolete (HTML §16.3), not in the standards, or of one engine. */
const left = new Set(
  `align archive axis background bgColor border cellPadding cellSpacing ch chOff charset clear code codeBase codeType
  color compact controlsList credentialless csp declare elementTiming encoding event focusGroup focusGroupStart frame
  frameBorder hspace incremental longDesc lowsrc marginHeight marginWidth noHref noShade noWrap rev rules scheme
  scrolling standby summary vAlign version virtualKeyboardPolicy vspace webkitdirectory allowPaymentRequest`.split(
    /\s+/,
  ),
);
/** Numbers on one element and texts on another: null and undefined are left out on both. */
const mixed = new Set(['width', 'height', 'size', 'min', 'max', 'value']);
/** Refused as code, or with another effect than in a page. */
const guarded = new Set(['srcdoc', 'nonce']);

interface Case {
  readonly tag: string;
  readonly property: string;
  readonly value: unknown;
  /** An attribute that it has before. */
  readonly before: string | undefined;
  /** Its attributes afterwards. */
  readonly attributes: string;
}

/** In the page: each property that changes an attribute, with values of its type. */
function cases(tags: string[]): Case[] {
  const found: Case[] = [];
  const written = (element: Element) => [...element.attributes].map(({ name, value }) => `${name}=${value}`).join();
  for (const tag of tags) {
    const properties = new Set<string>();
    for (
      let prototype: object = document.createElement(tag);
      prototype !== Node.prototype;
      prototype = Object.getPrototypeOf(prototype) as object
    )
      for (const [name, { set }] of Object.entries(Object.getOwnPropertyDescriptors(prototype)))
        if (set && !/^on|HTML$|^(?:inner|outer)Text|List$|For$/.test(name)) properties.add(name);
    for (const property of properties) {
      const type = typeof (document.createElement(tag) as never)[property];
      const values =
        property === 'style'
          ? ['color: red;']
          : type === 'boolean'
            ? [true, false]
            : type === 'number'
              ? [3]
              : ['a', 3, null, undefined];
      for (const value of values) {
        const element = document.createElement(tag);
        try {
          (element as unknown as Record<string, unknown>)[property] = value;
        } catch {
          continue;
        }
        const attributes = written(element);
        if (attributes === '') continue;
        found.push({ tag, property, value, before: undefined, attributes });
        if (type !== 'boolean' || value !== true || !attributes.endsWith('=')) continue;
        (element as unknown as Record<string, unknown>)[property] = false;
        found.push({ tag, property, value: false, before: attributes.slice(0, -1), attributes: written(element) });
      }
    }
  }
  return found;
}

class PlainHost extends contract('plain-host', {}) {
  view() {
    return markup`<p></p>`;
  }
}

const template = (...strings: string[]) => Object.assign(strings, { raw: strings }) as TemplateStringsArray;
const written = ({ tag, property, value, before = '' }: Case): Markup =>
  markup(template(`<${tag} ${before} `, '>'), { [property]: value });

after(closeEngines);

it('each property that an attribute reflects is written', {
  skip: !engines.chromium.find() && 'no Chromium',
}, async t => {
  const page = (await open('about:blank'))!;
  const all = ((await page.evaluate(`(${cases})(${JSON.stringify(tags.split(/\s+/))})`)) as Case[]).filter(
    ({ property, value }) =>
      !left.has(property) && !guarded.has(property) && !(mixed.has(property) && (value ?? null) === null),
  );
  t.diagnostic(`${all.length} values of ${new Set(all.map(({ property }) => property)).size} properties`);
  // On a custom element only those of all elements are the platform's. An option that is undefined is left out.
  const own = all.filter(({ tag, before, value }) => tag === 'div' && before === undefined && value !== undefined);
  const outputs = [
    ...all.map(one => renderMarkup(written(one))),
    ...own.map(({ property, value }) => renderElement(PlainHost, { properties: { [property]: value } })),
  ];
  const expected = [...all, ...own];
  const seen = (await page.evaluate(
    `${JSON.stringify(outputs)}.map(html => {
      const template = document.createElement('template');
      template.innerHTML = html;
      const element = template.content.firstElementChild;
      return [...element.attributes].map(({ name, value }) => name + '=' + value).join();
    })`,
  )) as string[];
  assert.deepEqual(
    expected.flatMap(({ tag, property, value, attributes }, at) =>
      seen[at] === attributes ? [] : [`<${tag}>.${property} = ${value}: ${attributes} in a browser, here ${seen[at]}`],
    ),
    [],
  );
  assert.ok(all.length > 4000, String(all.length));
});

it('what a synchronized field shows does not depend on where its value is written', () => {
  const [pick, tags] = [signal('y'), signal(['b'])];
  for (const html of [
    renderMarkup(markup`<input type="radio" ${sync(pick)} value=${'y'}>`),
    renderMarkup(markup`<input ${sync(pick)} value=${() => 'y'} type=${'radio'}>`),
    renderMarkup(markup`<input type="checkbox" ${sync(tags)} value="b">`),
    renderMarkup(markup`<input ${sync(tags)} type="checkbox" value=${'b'}>`),
  ])
    assert.match(html, / checked=""/);
});
