/** Built elements that use no signals: they load no graph, and everything in them follows what it shows all the same. */
import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import { foundEngines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { pageScript, withPages } from '../support/bundled-page.ts';

const elements = `
import { contract, data, each, event, flag, handle, integer, live, markup, on, slot, stylesheet, sync, text } from 'eltrix';

class HiveList extends contract('hive-list', {
  attributes: { name: text(), boxes: integer({ default: 1 }), since: integer({ reflect: false }) },
  properties: { frames: data(() => []), notes: live(() => ['a']) },
  form: true,
  slots: { '': slot('Notes.') },
}) {
  static styleSheets = [stylesheet\`:host { display: block }\`];
  log = [];
  box = handle();
  view() {
    return markup\`<h3 title="hive \${() => this.name} here" class=\${() => ({ busy: this.boxes > 2 })}>\${() => this.name}</h3>
      <ul>\${each(() => this.frames, frame => frame.id, (frame, at) => markup\`<li>\${at}:\${() => frame().honey}\${() => this.name}</li>\`)}</ul>
      <p>\${() => this.notes.join()}\${() => this.since}</p>
      <em>\${() => (this.boxes > 1 ? markup\`<b>\${() => this.boxes}</b>\` : 'one')}</em>
      <s>\${() => this.slotted().length}</s>
      <input \${this.box} \${sync({ get: () => this.name, set: value => { this.name = value; } })}>
      <slot></slot>\`;
  }
  formValue() { return \`\${this.name}:\${this.boxes}\`; }
  validate() { return this.boxes > 9 ? { flags: { rangeOverflow: true }, message: 'Too many.', anchor: this.box } : null; }
  assembled() { this.log.push('assembled'); }
  connected(scope) { this.log.push('connected'); scope.on(window, 'hive-note', event => this.notes.push(event.detail)); }
  disconnected() { this.log.push('disconnected'); }
  attributeChanged(name) { this.log.push(name); }
}
HiveList.define();

/** Shows what it reads of another element, whose own class has no hooks: one that is as plain as can be. */
class HivePlain extends contract('hive-plain', { attributes: { name: text() } }) {
  view() { return markup\`<i>\${() => this.name}</i>\`; }
}
HivePlain.define();
class HiveEcho extends contract('hive-echo', { properties: { of: data(() => null), list: data(() => null) } }) {
  view() { return markup\`<i>\${() => this.of?.name}</i><u>\${() => this.list?.notes.join()}</u>\`; }
}
HiveEcho.define();
`;

const page = `import 'elements';
const turn = () => new Promise(resolve => setTimeout(resolve));
async function run() {
  const seen = [];
  document.body.innerHTML = '<form><hive-list name="R"></hive-list></form><hive-plain name="P"></hive-plain><hive-echo></hive-echo>';
  const [hive, plain, echo] = document.querySelectorAll('hive-list, hive-plain, hive-echo');
  const form = document.forms[0];
  hive.setAttribute('data-form', '');
  const show = () => [...hive.shadowRoot.querySelectorAll('h3, ul, p, em, s')].map(one => one.textContent + (one.title ? '|' + one.title : '') + (one.className ? '|' + one.className : '')).join(' ');
  const look = async () => { await turn(); seen.push(show()); };
  await look();
  hive.name = 'S'; hive.frames = [{ id: 1, honey: 5 }, { id: 2, honey: 6 }];
  await look();
  hive.frames = [hive.frames[1], { id: 1, honey: 7 }, { id: 3, honey: 8 }];
  hive.boxes = 3;
  seen.push(hive.validity.valid);
  await look();
  hive.notes.push('b'); hive.since = 4; hive.append('x', document.createElement('q'));
  await turn(); await look();
  dispatchEvent(new CustomEvent('hive-note', { detail: 'c' }));
  hive.boxes = 12;
  seen.push(hive.validationMessage);
  await look();
  const input = hive.shadowRoot.querySelector('input');
  input.value = 'T'; input.dispatchEvent(new Event('input'));
  await look();
  hive.remove(); hive.name = 'U'; hive.notes.splice(0, 2); dispatchEvent(new CustomEvent('hive-note', { detail: 'd' }));
  await turn();
  seen.push(show());
  form.append(hive);
  seen.push(show(), hive.log.join());
  echo.of = plain; echo.list = hive;
  await turn();
  const echoed = () => seen.push([...echo.shadowRoot.children].map(one => one.textContent).join('|'));
  echoed();
  plain.name = 'Q'; hive.notes.push('e');
  await turn(); echoed();
  echo.remove(); plain.name = 'V'; await turn(); document.body.append(echo); echoed();
  plain.name = 'W'; await turn(); echoed();
  return seen;
}
globalThis.seen = run();`;

const expected = [
  'R|hive R here  a0 one 0',
  'S|hive S here 0:5S1:6S a0 one 0',
  true,
  'S|hive S here|busy 0:6S1:7S2:8S a0 3 0',
  'S|hive S here|busy 0:6S1:7S2:8S a,b4 3 1',
  'Too many.',
  'S|hive S here|busy 0:6S1:7S2:8S a,b,c4 12 1',
  'T|hive T here|busy 0:6T1:7T2:8T a,b,c4 12 1',
  'T|hive T here|busy 0:6T1:7T2:8T a,b,c4 12 1',
  'U|hive U here|busy 0:6U1:7U2:8U c4 12 1',
  'name,assembled,connected,name,boxes,boxes,name,disconnected,name,connected',
  'P|c',
  'Q|c,e',
  'V|c,e',
  'W|c,e',
];

describe('an element that uses no signals', () => {
  const besidePage = `import { effect } from 'eltrix'; effect(() => {}); ${page}`;
  const bundled = Promise.all([
    pageScript({ page, elements }),
    pageScript({ page: besidePage, elements }),
    pageScript({ page, elements }, 'as written'),
  ]);
  for (const engine of foundEngines())
    it(`follows what it shows without a graph, as it does with one, in ${engine.name}`, async () => {
      const [without, beside, written] = await bundled;
      assert.deepEqual(
        [without, beside, written].map(code => code.includes('eltrix.clock')),
        [false, true, true],
      );
      await withPages(engine, async open => {
        for (const code of [written, beside, without])
          assert.deepEqual(await (await open(code)).evaluate('seen'), expected);
      });
    });
});
