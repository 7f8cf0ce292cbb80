import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import { contract, each, markup, settled, signal, sync, text } from 'eltrix';
import { place } from './support.ts';

const tick = () => new Promise(resolve => setTimeout(resolve));

describe('sync', () => {
  const type = (field: Element & { value?: string }, value: string, event = 'input') => {
    field.value = value;
    field.dispatchEvent(new Event(event));
  };

  it('does not depend on where type and value are written, and follows them', async () => {
    const [pick, tags, kind, option] = [signal('y'), signal(['b']), signal('checkbox'), signal('y')];
    const value = signal<unknown>(true);
    const root = place(
      () => markup`<input type="radio" name="one" ${sync(pick)} value=${'y'}><input type="radio" name="two" ${sync(pick)} value=${() => option.get()}>
        <input type="checkbox" ${sync(tags)} value=${() => 'b'}><input ${sync(value)} type=${() => kind.get()}><input type=${() => kind.get()} ${sync(value)}>`,
    );
    const fields = [...root.querySelectorAll('input')];
    const checked = () => fields.map(field => field.checked);
    assert.deepEqual(checked(), [true, true, true, true, true]);
    option.set('z');
    await settled();
    assert.deepEqual(checked(), [true, false, true, true, true]);
    pick.set('z');
    await settled();
    assert.deepEqual(checked(), [false, true, true, true, true]);
    option.set('y');
    await settled();
    assert.deepEqual(checked(), [false, false, true, true, true]);
    value.set('a');
    kind.set('text');
    await settled();
    assert.deepEqual(
      fields.slice(3).map(field => field.value),
      ['a', 'a'],
    );
    type(fields[3]!, 'b');
    await settled();
    assert.equal(value.peek(), 'b');
    assert.equal(fields[4]!.value, 'b');
  });

  it('follows a text field that becomes a checkbox', async () => {
    const [kind, value] = [signal('text'), signal(true)];
    const root = place(() => markup`<input ${sync(value)} type=${() => kind.get()}>`);
    kind.set('checkbox');
    await settled();
    assert.equal(root.querySelector('input')!.checked, true);
  });

  it('synchronizes every kind of field with a signal', async () => {
    const [name, count, done, pick, one, many, tags, note] = [
      signal('a'),
      signal<number | null>(1),
      signal(false),
      signal('y'),
      signal('b'),
      signal(['a', 'c']),
      signal(['t2']),
      signal('n'),
    ];
    class SyncField extends contract('sync-field', { form: true, attributes: { value: text({ reflect: false }) } }) {}
    SyncField.define();
    const custom = signal('c');
    const options = ['a', 'b', 'c'].map(value => markup`<option value=${value}></option>`);
    const root = place(
      () => markup`<input id="name" ${sync(name)}><input id="count" type="number" ${sync(count)}><input id="done" type="checkbox" ${sync(done)}>
        <input id="x" type="radio" name="r" value="x" ${sync(pick)}><input id="y" type="radio" name="r" value="y" ${sync(pick)}>
        <select id="one" ${sync(one)}>${options}</select><select id="many" multiple ${sync(many)}>${options}</select>
        <input id="t1" type="checkbox" value="t1" ${sync(tags)}><input id="t2" type="checkbox" value="t2" ${sync(tags)}>
        <textarea id="note" ${sync(note)}></textarea><div id="edit" contenteditable ${sync(note)}></div><sync-field id="custom" ${sync(custom)}></sync-field>`,
    );
    const at = (id: string) => root.getElementById(id) as HTMLInputElement;
    const chosen = (id: string) =>
      Array.from((root.getElementById(id) as HTMLSelectElement).selectedOptions, option => option.value).join();
    const state = () => [
      at('name').value,
      at('count').value,
      at('done').checked,
      at('x').checked,
      at('y').checked,
      chosen('one'),
      chosen('many'),
      at('t1').checked,
      at('t2').checked,
      at('note').value,
      at('edit').textContent,
      at('custom').value,
    ];
    assert.deepEqual(state(), ['a', '1', false, false, true, 'b', 'a,c', false, true, 'n', 'n', 'c']);
    type(at('name'), 'b');
    type(at('count'), '');
    at('done').click();
    at('x').click();
    at('t1').click();
    at('t2').click();
    type(root.querySelector('#one')!, 'c', 'change');
    (root.querySelector('#many') as HTMLSelectElement).options[1]!.selected = true;
    root.querySelector('#many')!.dispatchEvent(new Event('change'));
    type(at('note'), 'm');
    type(at('custom'), 'd');
    assert.deepEqual(
      [name, count, done, pick, one, many, tags, note, custom].map(s => s.peek()),
      ['b', null, true, 'x', 'c', ['a', 'b', 'c'], ['t1'], 'm', 'd'],
    );
    await settled();
    assert.equal(at('edit').textContent, 'm');
    name.set('z');
    count.set(7);
    done.set(false);
    pick.set('y');
    one.set('a');
    many.set(['b']);
    tags.set([]);
    custom.set('e');
    await settled();
    assert.deepEqual(state(), ['z', '7', false, false, true, 'a', 'b', false, false, 'm', 'm', 'e']);
  });

  it('selects options that are added later', async () => {
    const options = signal<string[]>([]);
    const root = place(
      () =>
        markup`<select ${sync(signal('b'))}>${each(
          () => options.get(),
          o => o,
          o => markup`<option>${o()}</option>`,
        )}</select>`,
    );
    options.set(['a', 'b']);
    await settled();
    await tick();
    assert.equal(root.querySelector('select')!.value, 'b');
  });
});
