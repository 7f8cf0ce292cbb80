/** Elements of many kinds, for a server and for pages. */
export const sources: Readonly<Record<string, string>> = {
  'src/note-card.js': `
import { contract, text, data, slot, markup, stylesheet, each, signal, handle, sync } from 'eltrix';
export class NoteCard extends contract('note-card', {
  attributes: { heading: text() },
  properties: { rows: data(() => []) },
  slots: { '': slot('Text.'), badge: slot('A badge.') },
  shadow: { mode: 'open', delegatesFocus: true },
}) {
  static styleSheets = [stylesheet\`h3 { color: rgb(1, 2, 3) }\`];
  box = handle();
  draft = signal('draft');
  chosen = signal('b');
  agreed = signal(false);
  clicks = signal(0);
  view() {
    return markup\`<h3 \${this.box} title=\${() => this.heading}>\${() => this.heading}</h3>
      <slot name="badge"><b>none</b></slot>
      <ul>\${each(() => this.rows, row => row.id, row => markup\`<li>\${() => row().text}</li>\`)}</ul>
      \${() => (this.rows.length > 1 ? markup\`<p>many</p>\` : 'few')}
      <input type="text" \${sync(this.draft)}><input type="checkbox" \${sync(this.agreed)}>
      <select \${{ value: () => this.chosen.get(), onchange: e => this.chosen.set(e.target.value) }}><option value="a">A</option><option value="b">B</option></select>
      <div class="scroll"><p>tall</p></div>
      <button type="button" onclick=\${() => this.clicks.set(this.clicks.get() + 1)}>\${() => this.clicks.get()}</button>
      <slot></slot>\`;
  }
}
NoteCard.define();`,
  'src/field-card.js': `
import { contract, markup, signal, sync } from 'eltrix';
export class FieldCard extends contract('field-card', {}) {
  note = signal('two\\nlines');
  said = signal('said');
  opening = signal('\\nbegins with a line');
  about = signal('about');
  sum = signal(7);
  view() {
    return markup\`<textarea id="synced" \${sync(this.note)}></textarea><textarea id="set" \${{ value: () => this.opening.get() }}></textarea>
      <p id="editable" contenteditable \${sync(this.said)}></p><p id="content" class=\${() => 'c' + this.sum.get()} \${{ textContent: () => this.about.get() }}></p>
      <output id="sum" \${sync(this.sum)}></output><output id="total" \${{ value: () => this.sum.get() }}></output><b \${{ innerText: () => this.about.get() }}></b>
      <select id="chosen"><option \${{ selected: () => false }}>a</option><option \${{ selected: () => true }}>b</option></select>
      \${() => markup\`<textarea id="inner" \${sync(this.note)}></textarea><p id="empty" \${{ textContent: () => '' }}></p>\`}\`;
  }
}
FieldCard.define();`,
  'src/closed-card.js': `
import { contract, text, markup } from 'eltrix';
export class ClosedCard extends contract('closed-card', { attributes: { label: text() }, shadow: { mode: 'closed' } }) {
  view() { return markup\`<p>\${() => this.label}</p>\`; }
  assembled() { this.seen = this.internals.shadowRoot; }
}
ClosedCard.define();`,
  'src/light-card.js': `
import { contract, text, slot, markup, stylesheet, signal } from 'eltrix';
export class LightCard extends contract('light-card', {
  attributes: { label: text() },
  slots: { '': slot('Text.'), head: slot('Above.'), foot: slot('Below.') },
  shadow: 'none',
}) {
  static styleSheets = [stylesheet\`header { color: rgb(4, 5, 6) }\`];
  count = signal(1);
  view() {
    return markup\`<header><slot name="head"><i>\${() => this.label} \${() => this.count.get()}</i></slot></header>
      <main><slot></slot></main>
      <slot name="foot"><em>\${() => this.count.get()}</em></slot>\`;
  }
}
LightCard.define();`,
  'src/outer-card.js': `
import { contract, data, markup, each, signal } from 'eltrix';
import './light-card.js';
import './note-card.js';
export class OuterCard extends contract('outer-card', {}) {
  notes = signal(['one', 'two']);
  view() {
    return markup\`<light-card label="x">before <b slot="head">head</b> after \${() => this.notes.get().length} <u slot="none">nowhere</u></light-card>
      \${each(() => this.notes.get(), note => note, note => markup\`<note-card heading=\${note} \${{ rows: () => [{ id: 1, text: note() }] }}><p>\${note}</p></note-card>\`)}\`;
  }
}
OuterCard.define();`,
  'src/around-card.js': `
import { contract, markup, each, signal } from 'eltrix';
export class AroundCard extends contract('around-card', {}) {
  words = signal('waits');
  list = signal([1, 2]);
  view() {
    return markup\`<light-card label="x">\${() => this.words.get()}<b slot="head">head</b></light-card>
      <p>\${() => (this.list.get().length > 2 ? each(() => this.list.get(), n => n, n => markup\`<i>\${n}</i>\`) : 'few')}</p>\`;
  }
}
AroundCard.define();`,
  'src/nested-card.js': `
import { contract, markup, signal } from 'eltrix';
import { region } from 'eltrix/views';
export class NestedCard extends contract('nested-card', {}) {
  word = signal('one');
  view() {
    const link = inside => markup\`<a href="/">\${inside}</a>\`;
    return markup\`\${region(() => markup\`\${[link(link(() => this.word.get())), '.']}\`, () => 'failed')}\`;
  }
}
NestedCard.define();`,
  'src/other-card.js': `
import { contract, markup, each } from 'eltrix';
const here = () => globalThis.document !== undefined;
export class OtherCard extends contract('other-card', {}) {
  view() {
    return markup\`<p>same</p><p class="time">\${() => (here() ? 'browser' : 'server')}</p>
      <div>\${() => (here() ? markup\`<i>browser</i>\` : markup\`<b>server</b>\`)}</div>
      <ul>\${each(() => (here() ? [1, 2, 4] : [1, 2, 3, 5]), n => n, n => markup\`<li>\${() => n()}</li>\`)}</ul>\`;
  }
}
OtherCard.define();`,
  'src/press-button.js': `
import { contract, integer, markup } from 'eltrix';
export class PressButton extends contract('press-button', { attributes: { times: integer() }, extends: 'button' }) {
  view() { return markup\`<span>\${() => this.times}</span><slot></slot>\`; }
}
PressButton.define();`,
  'src/region-card.js': `
import { contract, text, markup } from 'eltrix';
import { region } from 'eltrix/views';
export class RegionCard extends contract('region-card', { attributes: { fails: text() } }) {
  view() {
    const fails = () => this.fails === 'always' || (this.fails === 'server' && !globalThis.document);
    return markup\`<h4>head</h4>\${region(
      () => markup\`<i>\${() => { if (fails()) throw new Error('no'); return 'well'; }}</i>\`,
      (error, retry) => markup\`<b>\${error.message}</b><button onclick=\${retry}>again</button>\`,
    )}<p>foot</p>\`;
  }
}
RegionCard.define();`,
  'src/left-alone.js': `
import { contract, markup } from 'eltrix';
export class LeftAlone extends contract('left-alone', { render: false }) {
  view() { return markup\`<p>\${document.title}</p>\`; }
}
LeftAlone.define();`,
};

/** What stands on the page, before it is rendered. */
export const body = `
<note-card id="note" heading="A &amp; B"><em slot="badge">new</em> <p>Quiet.</p></note-card>
<closed-card id="closed" label="shut"></closed-card>
<light-card id="light" label="lit">one <i slot="head">two</i> three <u slot="none">four</u></light-card>
<light-card id="bare" label="bare"></light-card>
<outer-card id="outer"></outer-card>
<around-card id="around"></around-card>
<nested-card id="nested"></nested-card>
<other-card id="other"></other-card>
<button is="press-button" id="press" times="3">press</button>
<left-alone id="left"></left-alone>
<field-card id="fields"></field-card>
<region-card></region-card><region-card fails="always"></region-card><region-card fails="server"></region-card>`;
