/** Elements with hooks, internals and states, in everything that can happen to an element: built ones do what they do as written. */
import assert from 'node:assert/strict';
import { after, before, describe, it } from 'node:test';
import { engines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { closeEngines } from '../support/project.ts';
import { type Case, type Seen, writtenAndBuilt } from '../support/written-and-built.ts';

const every = `
  assembled() { note('assembled'); }
  connected(scope) { note('connected ' + this.label); scope.use(() => note('released')); }
  disconnected() { note('disconnected'); }
  adopted() { note('adopted'); }
  attributeChanged(name, before, after) { note('attribute ' + name + ' ' + before + ' ' + after + ' ' + this.label); }
  propertyChanged(name, before, after) { note('property ' + name + ' ' + before + ' ' + after); }`;

const members: Readonly<Record<string, string>> = {
  'one hook: connected': "connected() { note('connected'); }",
  'one hook: attributeChanged': "attributeChanged(name, before, after) { note(name + ' ' + before + ' ' + after); }",
  'one hook: propertyChanged': "propertyChanged(name, before, after) { note(name + ' ' + before + ' ' + after); }",
  'all hooks': every,
  'all hooks and moved': `${every} moved() { note('moved'); }`,
  'connected takes the element away':
    "#times = 0; connected() { note('connected'); if (this.#times++ > 0) this.remove(); } disconnected() { note('gone'); }",
  'connected moves the element': `connected() { note('connected'); if (this.parentNode === document.body) { const box = document.createElement('div'); document.body.append(box); box.append(this); } }
    disconnected() { note('gone'); }`,
  'disconnected puts it back once': `#times = 0;
    connected() { note('connected'); }
    disconnected() { note('gone'); if (this.#times++ === 0) document.body.append(this); }`,
  'a hook writes another attribute':
    "attributeChanged(name) { note(name); if (name === 'label') this.count = this.label.length; }",
  'a hook writes its own attribute':
    "attributeChanged() { if (this.label.length < 5) this.label += '!'; note(this.label); }",
  'hooks that throw': `connected() { throw new Error('no connection'); } disconnected() { throw new Error('no end'); }
    attributeChanged(name) { throw new Error('no ' + name); }`,
  'hooks that change what shows': `assembled() { this.label ||= 'assembled'; } connected() { this.count++; note(this.shadowRoot.textContent); }
    disconnected() { this.count--; }`,
  'hooks that look into the root': "connected() { note('elements: ' + this.shadowRoot.querySelectorAll('*').length); }",
  'a scope with all that it has': `connected(scope) {
      scope.on(this, 'ping', () => note('ping ' + this.label));
      scope.every(100_000, () => {});
      scope.after(0, () => note('after'));
      scope.frame(() => {});
      scope.effect(() => note('effect ' + this.label + this.count));
      scope.signal.addEventListener('abort', () => note('aborted'));
    }`,
  'a scope taken apart':
    "connected({ signal, on }) { note(typeof on); addEventListener('ping', () => note('ping'), { signal }); }",
  'a scope passed on': `#take(given) { given.use(() => note('released')); given.after(0, () => note('after')); }
    connected(scope) { this.#take(scope); }`,
  'a scope with another name': `connected(taken) {
      const { signal } = taken, given = taken;
      given.on(this, 'ping', () => note('ping'), { signal });
      taken['use'](() => note('released'));
    }`,
  'a scope among arguments': "connected() { arguments[0].use(() => note('released ' + arguments.length)); }",
  'a scope used in a function': `connected(scope) {
      const twice = what => { scope?.use(() => note('released ' + what)); scope.on?.(this, 'ping', () => note(what)); };
      twice('one'); twice('two');
    }`,
  internals: "connected() { this.internals.role = 'note'; note(this.internals.role + this.internals.states.size); }",
  states:
    "connected() { this.states.add('here'); note('here: ' + this.matches(':state(here)')); } disconnected() { this.states.delete('here'); }",
  'a method that is not called': "view2() { return 'nothing'; } connected() { note(this.view2()); }",
};

const views: Readonly<Record<string, string>> = {
  'with a view':
    'view() { return markup`<p title=${() => this.label}>${() => this.label} ${() => this.count}</p><slot></slot>`; }',
  'without a view': '',
};

const shown =
  "return [el.label, el.count, el.isConnected, el.outerHTML, el.shadowRoot.innerHTML.replace(/<!--.*?-->/gs, '')];";
/** Each finds the element where the one before has left it. */
const steps = [
  "el.label = 'b';",
  "el.setAttribute('label', 'c'); el.count = 3; el.removeAttribute('label');",
  "el.setAttribute('count', 'many'); el.setAttributeNS('urn:x', 'x:label', 'elsewhere');",
  "el.dispatchEvent(new Event('ping')); dispatchEvent(new Event('ping'));",
  'el.remove(); ',
  "el.label = 'away'; el.setAttribute('count', '9');",
  'document.body.append(el);',
  "const box = document.createElement('div'); document.body.append(box); box.append(el);",
  'el.remove(); document.body.append(el); el.remove();',
  'document.body.append(el); el.label = "last"; el.remove(); document.body.append(el);',
  'if (el.isConnected) document.body.moveBefore(el, document.body.firstChild);',
  `const frame = document.createElement('iframe'); document.body.append(frame);
   frame.contentDocument.body.append(el); await turn(); document.body.append(el); frame.remove();`,
  'document.body.append(el.cloneNode(true)); await turn(); document.body.lastChild.remove();',
  `const other = document.implementation.createHTMLDocument(); other.body.innerHTML = el.outerHTML;
   const early = other.body.firstElementChild; early.label = 'early'; early.count = '7'; document.body.append(early);
   await turn(); note(early.outerHTML + early.label + early.count); early.remove();`,
  `const early = document.implementation.createHTMLDocument().createElement(el.localName); early.label = 'set early';
   document.body.append(early); early.label = 'then'; await turn(); note(early.outerHTML); early.remove();`,
  `const fresh = document.createElement(el.localName); fresh.label = 'made'; fresh.count = 2; await turn();
   document.body.append(fresh); note(fresh.shadowRoot.textContent); fresh.remove();`,
  `const wrong = document.createElement(el.localName); try { wrong.label = Symbol(); } catch (error) { note(error.name); }
   try { Object.getPrototypeOf(el).label; } catch (error) { note(error.name); }`,
  // A class of the page that extends it, by what the platform calls.
  `const tag = el.localName + '-of-page';
   customElements.define(tag, class extends el.constructor {
     constructor() { super(); note('constructed'); }
     connectedCallback() { super.connectedCallback(); note('in ' + (this.parentNode && this.localName)); }
     disconnectedCallback() { super.disconnectedCallback(); note('out'); }
     adoptedCallback(from, to) { super.adoptedCallback(from, to); note('adopted by another document'); }
     static observedAttributes = [...super.observedAttributes, 'data-mine'];
     attributeChangedCallback(name, before, after) { super.attributeChangedCallback(name, before, after); note([name, before, after].join()); }
   });
   const other = document.createElement(tag); document.body.append(other); other.label = 'page'; other.dataset.mine = 'x'; await turn(); note(other.outerHTML);
   const again = document.createElement(el.localName); document.body.append(again); again.label = 'base'; await turn();
   note(again.outerHTML + other.shadowRoot.textContent + again.shadowRoot.textContent); again.remove(); other.remove();`,
  // One that has hooks, too: those of the element, since a build does not contain others.
  `const tag = el.localName + '-with-hooks';
   class OfPage extends el.constructor {}
   for (const name of ['attributeChanged', 'propertyChanged', 'connected', 'disconnected', 'moved'])
     if (name in el) OfPage.prototype[name] = function (...given) { note('page: ' + name + ' ' + given.filter(one => typeof one !== 'object').join()); };
   customElements.define(tag, OfPage);
   for (const name of [tag, el.localName, tag]) {
     const other = document.createElement(name);
     document.body.append(other); other.label = 'page'; await turn(); other.remove();
   }`,
  "document.body.insertAdjacentHTML('beforeend', '<' + el.localName + ' label=parsed count=4>x</' + el.localName + '>'); await turn(); document.body.lastElementChild.remove();",
].map(step => step + shown);

const cases = Object.entries(members).flatMap(([what, member], at) =>
  Object.entries(views).map(([how, view], number): Case => {
    const tag = `hook-${String.fromCharCode(97 + at)}${number}`;
    return {
      name: `${what}, ${how}`,
      tag,
      html: `<${tag} label="a"></${tag}>`,
      file: `src/${tag}.js`,
      files: {
        [`src/${tag}.js`]: `import { contract, text, integer, markup, event } from 'eltrix';
export class Hook${at}Of${number} extends contract('${tag}', {
  attributes: { label: text(), count: integer() }, events: { ping: event() }, states: { here: 'It is on the page.' },
}) { ${member} ${view} }`,
      },
      steps,
    };
  }),
);

describe('an element with hooks', { skip: !engines.chromium.find() && 'no Chromium' }, () => {
  let outcomes: Record<'written' | 'built', Seen>;
  before(async () => {
    outcomes = await writtenAndBuilt(cases);
  });
  after(closeEngines);

  for (const { name } of cases)
    it(name, () => {
      const { written, built } = outcomes;
      assert.equal(
        written[name]!.some(line => line.startsWith('threw: ')),
        false,
        written[name]!.join('\n'),
      );
      assert.deepEqual(built[name], written[name]);
    });
});
