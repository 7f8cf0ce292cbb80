/** Views that a server has rendered are complete without scripts, and taken over node for node, in three engines. */
import assert from 'node:assert/strict';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { after, before, describe, it } from 'node:test';
import { type EngineName, engines, type Page } from '../../packages/eltrix-tool/src/engines/index.ts';
import { closeEngines, eltrix, open, project, repository, serve } from '../support/project.ts';
import { body, sources } from './elements.ts';

const root = project({ ...sources, 'eltrix.config.js': "export default { render: '/w/' };" });
const strict =
  "default-src 'none'; script-src 'self'; style-src 'self'; require-trusted-types-for 'script'; trusted-types eltrix";
type Server = Awaited<ReturnType<typeof serve>>;
let built: Server;
let written: Server;

before(async () => {
  const { status, stderr } = eltrix(root, 'build', '--no-look');
  assert.equal(status, 0, stderr);
  const { renderPage } = (await import(join(root, 'dist/server.js'))) as typeof import('eltrix/server');
  const html = (styles: 'linked' | 'inline', head = '') =>
    renderPage(`<!doctype html><meta charset="utf-8"><title>page</title>${head}<body>${body}`, { styles });
  writeFileSync(
    join(root, 'dist/late.js'),
    `globalThis.load = tags => Promise.all(tags.map(tag => import('./' + tag + '.js')));`,
  );
  built = await serve(
    { '/w/': join(root, 'dist') },
    { '/': html('linked', '<script src="/w/late.js"></script>') },
    { 'content-security-policy': strict },
  );
  const map = JSON.stringify({ imports: { eltrix: '/eltrix/index.js', 'eltrix/views': '/eltrix/views.js' } });
  written = await serve(
    { '/src/': join(root, 'src'), '/eltrix/': join(repository, 'packages/eltrix/dist/page/development') },
    {
      '/': html(
        'inline',
        `<script type="importmap">${map}</script><script>globalThis.load = tags => Promise.all(tags.map(tag => import('/src/' + tag + '.js')));</script>`,
      ),
    },
  );
});
after(async () => {
  built.close();
  written.close();
  await closeEngines();
});

/** In the page: what shows, without marks of expressions and what a server sends beside views. */
const helpers = `
const turn = () => new Promise(resolve => setTimeout(resolve, 20));
const root = id => document.getElementById(id).shadowRoot;
const clean = html => html.replace(/<!--.*?-->/g, '').replace(/\\s+/g, ' ').trim();
const text = node => clean(node.innerHTML);
`;

async function inPage<T>(server: Server, name: EngineName, script: string): Promise<T> {
  const page: Page = (await open(`${server.address}/`, name))!;
  try {
    return await page.evaluate<T>(`(async () => { ${helpers} ${script} })()`);
  } finally {
    await page.close();
  }
}

for (const name of ['chromium', 'firefox', 'webkit'] as const)
  for (const way of ['written', 'built'] as const)
    describe(`${way}, in ${name}`, { skip: !engines[name].find() && `no ${name}` }, () => {
      const run = <T>(script: string) => inPage<T>(way === 'written' ? written : built, name, script);

      it('shows everything before a script runs', async () => {
        const seen = await run<Record<string, string>>(`return {
          heading: root('note').querySelector('h3').textContent,
          color: getComputedStyle(root('note').querySelector('h3')).color,
          badge: root('note').querySelector('slot').assignedElements()[0].textContent,
          light: text(document.getElementById('light').querySelector('main')),
          head: getComputedStyle(document.getElementById('light').querySelector('header')).color,
          nested: root('outer').querySelector('note-card').shadowRoot.querySelector('li').textContent,
          chosen: root('note').querySelector('select').value,
          left: String(root('left')),
        }`);
        assert.deepEqual(seen, {
          heading: 'A & B',
          color: 'rgb(1, 2, 3)',
          badge: 'new',
          light: '<slot data-given="">one three </slot>',
          head: 'rgb(4, 5, 6)',
          nested: 'one',
          chosen: 'b',
          left: 'null',
        });
      });

      it('adopts the same nodes, and adds or removes none', async () => {
        const seen = await run<Record<string, unknown>>(`
          const note = root('note'), outer = root('outer');
          const kept = [note.querySelector('h3'), note.querySelector('ul'), note.querySelector('select'),
            document.querySelector('#light header'), document.querySelector('#light i'), outer.querySelector('note-card'), outer.querySelector('light-card b')];
          const changes = [];
          const observer = new MutationObserver(records => { for (const { addedNodes, removedNodes, target } of records)
            for (const node of [...addedNodes, ...removedNodes]) if (!node.hasAttribute?.('data-eltrix')) changes.push((target.id || target.localName || 'root') + ': ' + (node.outerHTML ?? node.data)); });
          const observe = root => { observer.observe(root, { childList: true, subtree: true }); for (const e of root.querySelectorAll('*')) if (e.shadowRoot) observe(e.shadowRoot); };
          for (const id of ['note', 'light', 'bare', 'outer']) observe(document.getElementById(id)), root(id) && observe(root(id));
          await load(['note-card', 'closed-card', 'light-card', 'outer-card']);
          await turn();
          observer.disconnect();
          const sent = document.querySelectorAll('#light [data-eltrix], #bare [data-eltrix]').length + note.querySelectorAll('[data-eltrix]').length;
          const again = [note.querySelector('h3'), note.querySelector('ul'), note.querySelector('select'),
            document.querySelector('#light header'), document.querySelector('#light i'), outer.querySelector('note-card'), outer.querySelector('light-card b')];
          note.querySelector('button').click();
          document.getElementById('note').heading = 'C';
          document.getElementById('note').rows = [{ id: 1, text: 'r1' }, { id: 2, text: 'r2' }];
          document.getElementById('bare').label = 'other';
          document.getElementById('closed').label = 'open';
          outer.host.notes.set(['two', 'three']);
          await turn();
          return {
            same: kept.map((node, i) => node === again[i]), changes: changes.filter(text => !/^undefined/.test(text)).slice(0, 5), sent,
            color: getComputedStyle(note.querySelector('h3')).color,
            handle: note.host.box.element === note.querySelector('h3'),
            heading: note.querySelector('h3').textContent + note.querySelector('h3').title,
            list: note.querySelector('ul').textContent, many: note.querySelector('p').textContent, clicks: note.querySelector('button').textContent,
            bare: text(document.getElementById('bare').querySelector('header')),
            closed: document.getElementById('closed').seen.textContent, own: document.getElementById('closed').shadowRoot === null,
            notes: [...outer.querySelectorAll('note-card')].map(e => e.heading + e.shadowRoot.querySelector('ul').textContent + e.textContent),
            count: text(outer.querySelector('light-card main')),
          };`);
        assert.deepEqual(seen, {
          same: [true, true, true, true, true, true, true],
          changes: [],
          sent: 0,
          color: 'rgb(1, 2, 3)',
          handle: true,
          heading: 'CC',
          list: 'r1r2',
          many: 'many',
          clicks: '1',
          bare: '<slot name="head"><i>other 1</i></slot>',
          closed: 'open',
          own: true,
          notes: ['twotwotwo', 'threethreethree'],
          count: '<slot data-given="">before after 2 </slot>',
        });
      });

      it('shows the fallback again when slotted content is removed, and keeps content without a slot', async () => {
        const seen = await run<unknown>(`
          await load(['light-card']);
          const light = document.getElementById('light');
          light.count.set(7);
          light.querySelector('i').remove();
          await turn();
          const head = text(light.querySelector('header'));
          light.querySelector('slot:not([name])').replaceChildren();
          await turn();
          const lost = light.textContent.includes('four');
          const added = document.createElement('s');
          added.slot = 'foot';
          added.textContent = 'added';
          light.append(added);
          await turn();
          return { head, lost, foot: text(light.querySelector('slot[name=foot]')) };`);
        assert.deepEqual(seen, {
          head: '<slot name="head"><i>lit 7</i></slot>',
          lost: false,
          foot: '<s slot="foot">added</s>',
        });
      });

      it('keeps what the user typed, selected, focused and scrolled', async () => {
        const seen = await run<unknown>(`
          const note = root('note');
          const [field, box] = note.querySelectorAll('input');
          field.focus();
          field.value = 'typed';
          field.setSelectionRange(1, 3);
          box.checked = true;
          note.querySelector('select').value = 'a';
          await load(['note-card']);
          await turn();
          const host = note.host;
          return { field: field.value, focus: note.activeElement === field, caret: [field.selectionStart, field.selectionEnd],
            draft: host.draft.get(), agreed: host.agreed.get(), chosen: host.chosen.get(), select: note.querySelector('select').value };`);
        assert.deepEqual(seen, {
          field: 'typed',
          focus: true,
          caret: [1, 3],
          draft: 'typed',
          agreed: true,
          chosen: 'a',
          select: 'a',
        });
      });

      it('adopts text that a field or a property has in its element, and keeps what the user typed there', async () => {
        const seen = await run<unknown>(`
          const said = [];
          console.warn = text => said.push(text);
          const fields = root('fields');
          const nodes = () => [...fields.querySelectorAll('*')].flatMap(node => [node, ...node.childNodes].filter(({ nodeType }) => nodeType !== 8));
          const before = nodes();
          const shown = text(fields);
          fields.getElementById('inner').value = 'typed';
          fields.getElementById('editable').firstChild.data = 'written';
          await load(['field-card']);
          await turn();
          const { host } = fields;
          const after = { same: nodes().every((node, i) => node === before[i]) && nodes().length === before.length, shown, said,
            values: [...fields.querySelectorAll('textarea, output')].map(field => field.value), note: host.note.get(), words: host.said.get() };
          host.sum.set(8);
          host.opening.set('new');
          host.said.set('again');
          host.about.set('other');
          await turn();
          return { ...after, later: [...fields.querySelectorAll('output, p, b')].map(node => node.textContent), set: fields.getElementById('set').value,
            chosen: fields.getElementById('chosen').value, selected: fields.querySelectorAll('[selected]').length };`);
        assert.deepEqual(seen, {
          same: true,
          shown:
            '<textarea id="synced">two lines</textarea><textarea id="set"> begins with a line</textarea> <p id="editable" contenteditable="">said</p><p id="content" class="c7">about</p> <output id="sum">7</output><output id="total">7</output><b>about</b> <select id="chosen"><option>a</option><option selected="">b</option></select> <textarea id="inner">two lines</textarea><p id="empty"></p>',
          said: [],
          values: ['typed', '\nbegins with a line', '7', '7', 'typed'],
          note: 'typed',
          words: 'written',
          later: ['again', 'other', '8', '8', 'other', ''],
          set: 'new',
          chosen: 'b',
          selected: 0,
        });
      });

      it('adopts what a region shows, or shows what the server could not', async () => {
        const seen = await run<Record<string, string[]>>(`
          const cards = [...document.querySelectorAll('region-card')];
          const kept = cards.map(({ shadowRoot }) => [...shadowRoot.querySelectorAll('*:not([data-eltrix])')]);
          const shown = () => cards.map(({ shadowRoot }) => text(shadowRoot).replace(/<style.*?<.style>/g, ''));
          const before = shown();
          await load(['region-card']);
          await turn();
          const after = shown();
          const same = cards.map(({ shadowRoot }, at) => String([...shadowRoot.querySelectorAll('*:not([data-eltrix])')].every(node => kept[at].includes(node))));
          cards[1].setAttribute('fails', '');
          cards[1].shadowRoot.querySelector('button').click();
          await turn();
          cards[0].setAttribute('fails', 'always');
          await turn();
          return { before, after, same, later: shown() };`);
        const [well, failed] = ['<i>well</i>', '<b>no</b><button>again</button>'].map(
          inside => `<h4>head</h4>${inside}<p>foot</p>`,
        );
        assert.deepEqual(seen, {
          before: [well, failed, failed],
          after: [well, failed, well],
          same: ['true', 'false', 'false'],
          later: [failed, well, well],
        });
      });

      it('goes on with a text beside what others add', async () => {
        const seen = await run<string[]>(`
          await load(['note-card']);
          const heading = root('note').querySelector('h3');
          heading.append(document.createElement('i'));
          const seen = [];
          for (const text of ['C', '', 'D & E', 'F']) {
            if (text === 'F') for (const one of [...heading.childNodes].filter(({ nodeType }) => nodeType === 3)) one.replaceWith(document.createElement('font'));
            document.getElementById('note').heading = text;
            await turn();
            seen.push(text && clean(heading.innerHTML));
          }
          return seen;`);
        assert.deepEqual(seen, ['C<i></i>', '', 'D &amp; E<i></i>', 'F']);
      });

      it('rebuilds only what differs', async () => {
        const seen = await run<Record<string, unknown>>(`
          const said = [];
          console.warn = text => said.push(text);
          const other = root('other');
          const before = [other.querySelector('p'), other.querySelector('ul'), other.querySelector('li'), other.querySelector('.time')];
          await load(['other-card']);
          await turn();
          const after = [other.querySelector('p'), other.querySelector('ul'), other.querySelector('li'), other.querySelector('.time')];
          return { same: before.map((node, i) => node === after[i]), text: clean(other.innerHTML), said: said.filter(text => /sent-differs/.test(text)).length,
            first: said[0] ?? '' };`);
        const { first, said, ...rest } = seen;
        assert.deepEqual(rest, {
          same: [true, true, true, true],
          text: '<p>same</p><p class="time">browser</p> <div><i>browser</i></div> <ul><li>1</li><li>2</li><li>4</li></ul>',
        });
        if (way === 'built') assert.equal(said, 0);
        else {
          assert.ok((said as number) >= 3, `${said}`);
          assert.match(
            first as string,
            /^Warning \(sent-differs\): <other-card>, line 1 of the markup.*the server sent "server", and the view has "browser"/,
          );
        }
      });

      it('rebuilds a view whose elements are parsed to others', async () => {
        const seen = await run<Record<string, string>>(`
          const said = [];
          console.warn = text => said.push(text);
          const nested = root('nested');
          await load(['nested-card']);
          await turn();
          const first = text(nested);
          nested.host.word.set('two');
          await turn();
          return { first, second: text(nested), said: said[0] ?? '' };`);
        const shown = (word: string) => `<a href="/"><a href="/">${word}</a></a>.`;
        assert.equal(seen['first'], shown('one'));
        assert.equal(seen['second'], shown('two'));
        if (way === 'written') assert.match(seen['said']!, /sent-differs.*<nested-card>: the browser has parsed other/);
      });

      it('adopts elements in any order, also inner ones first', async () => {
        const seen = await run<unknown>(`
          const outer = root('outer');
          const inner = outer.querySelector('note-card');
          await load(['note-card']);
          await turn();
          await load(['light-card']);
          await turn();
          const li = inner.shadowRoot.querySelector('li');
          await load(['outer-card']);
          await turn();
          return { same: outer.querySelector('note-card') === inner, row: inner.shadowRoot.querySelector('li') === li,
            rows: inner.rows.length, light: text(outer.querySelector('light-card main')) };`);
        assert.deepEqual(seen, {
          same: true,
          row: true,
          rows: 1,
          light: '<slot data-given="">before after 2 </slot>',
        });
      });

      it('adopts what is inside an element without a root whose module comes later', async () => {
        const seen = await run<unknown>(`
          const around = root('around');
          const kept = [...around.querySelectorAll('light-card, header, b, p')];
          await load(['around-card']);
          await turn();
          await load(['light-card']);
          await turn();
          const same = [...around.querySelectorAll('light-card, header, b, p')].map((node, at) => node === kept[at]);
          around.host.words.set('goes');
          around.host.list.set([1, 2, 3]);
          await turn();
          return { same, light: text(around.querySelector('light-card')), list: text(around.querySelector('p')) };`);
        assert.deepEqual(seen, {
          same: [true, true, true, true],
          light:
            '<header><slot name="head" data-given=""><b slot="head">head</b></slot></header> <main><slot data-given="">goes</slot></main> <slot name="foot"><em>1</em></slot>',
          list: '<i>1</i><i>2</i><i>3</i>',
        });
      });

      it('adopts customized built-in elements, and creates those left to the browser', async () => {
        const seen = await run<Record<string, unknown>>(`
          const press = document.getElementById('press');
          const before = press.textContent;
          await load(['press-button', 'left-alone']);
          await turn();
          press.setAttribute('times', '4');
          await turn();
          return { before, after: press.textContent, left: root('left').textContent };`);
        const upgraded = name === 'webkit' ? '3press' : '4press';
        assert.deepEqual(seen, { before: '3press', after: upgraded, left: 'page' });
      });
    });

it('removes the second root if the script ran before the page was parsed', {
  skip: !engines.chromium.find() && 'no Chromium',
}, async () => {
  const { renderPage } = (await import(join(root, 'dist/server.js'))) as typeof import('eltrix/server');
  const html = renderPage(body);
  const server = await serve(
    { '/w/': join(root, 'classic') },
    { '/': `<!doctype html><body><script src="/w/classic.js"></script>${html}` },
  );
  try {
    assert.equal(eltrix(root, 'build', '--no-look', '--classic', '--out', 'classic').status, 0);
    const page = (await open(`${server.address}/`))!;
    const seen = await page.evaluate<unknown>(
      `(async () => { ${helpers} await turn(); return [document.querySelectorAll('note-card > template').length, root('note').querySelector('h3').textContent,
        text(document.getElementById('light')), document.getElementById('bare').textContent.trim().replace(/\\s+/g, ' ')]; })()`,
    );
    await page.close();
    assert.deepEqual(seen, [
      0,
      'A & B',
      '<header><slot name="head" data-given=""><i slot="head">two</i></slot></header> <main><slot data-given="">one three </slot></main> <slot name="foot"><em>1</em></slot>',
      'bare 1 1',
    ]);
  } finally {
    server.close();
  }
});
