import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import { contract, custom, data, each, integer, json, live, markup, plain, settled, text } from 'eltrix';
import { heard, inside, messages, put, warns } from './support.ts';

interface Note {
  id: number;
  text?: string;
  tags?: string[];
}

class NoteList extends contract('note-list', {
  attributes: {
    plan: json<unknown>({ default: () => ({ none: true }) }),
    pair: custom({
      parse: value => {
        if (value === 'bad') throw new RangeError('no pair');
        return (value ?? '').split('/');
      },
      print: (value: string[]) => {
        if (value.length > 2) throw new RangeError('too many');
        return value.join('/');
      },
    }),
    level: integer({ reflect: false, default: 3 }),
  },
  properties: { notes: live<Note[]>(() => []), whole: data<Note[]>(() => []) },
}) {
  runs = 0;
  view() {
    return markup`
      <ul>${each(
        () => this.notes,
        note => note.id,
        note => markup`<li>${() => note().text}${() => note().tags?.join('+')}</li>`,
      )}</ul>
      <b>${() => this.summary()}</b>
      <i>${() => this.whole.length}</i><u>${() => this.level}</u>`;
  }
  summary() {
    this.runs++;
    return this.notes.map(note => note.text ?? '-').join();
  }
}
NoteList.define();

const fresh = () => {
  const element = new NoteList();
  document.body.append(element);
  return element;
};
const rows = (element: NoteList) => [...element.shadowRoot!.querySelectorAll('li')].map(row => row.textContent);

describe('live properties', () => {
  it('show changes in place, once for each task', async () => {
    const element = fresh();
    element.runs = 0;
    element.notes.push({ id: 1, text: 'a' }, { id: 2, text: 'b' });
    element.notes.push({ id: 3, text: 'c', tags: ['x'] });
    await settled();
    assert.deepEqual(rows(element), ['a', 'b', 'cx']);
    assert.equal(element.runs, 1);
    const shows = async (change: (notes: Note[]) => void, expected: string[]) => {
      change(element.notes);
      await settled();
      assert.deepEqual(rows(element), expected, String(change));
    };
    await shows(notes => void (notes[0]!.text = 'A'), ['A', 'b', 'cx']);
    await shows(notes => notes[2]!.tags!.push('y'), ['A', 'b', 'cx+y']);
    await shows(notes => notes.reverse(), ['cx+y', 'b', 'A']);
    await shows(notes => notes.sort((a, b) => a.id - b.id), ['A', 'b', 'cx+y']);
    await shows(notes => notes.splice(1, 1, { id: 4, text: 'd' }), ['A', 'd', 'cx+y']);
    await shows(notes => void delete notes[0]!.text, ['', 'd', 'cx+y']);
    await shows(notes => void (notes[0] = { id: 9, text: 'nine' }), ['nine', 'd', 'cx+y']);
    await shows(notes => void (notes.length = 1), ['nine']);
    await shows(notes => notes.unshift({ id: 5, text: 'first' }), ['first', 'nine']);
    assert.equal(inside(element, 'b').textContent, 'first,nine');
  });

  it('return the same proxy for the same object, and the object through plain()', () => {
    const element = fresh();
    const notes: Note[] = [{ id: 1, tags: ['a'] }];
    element.notes = notes;
    assert.equal(element.notes, element.notes);
    assert.equal(element.notes[0], element.notes[0]);
    assert.notEqual(element.notes as unknown, notes);
    assert.equal(plain(element.notes), notes);
    assert.ok(element.notes.includes(notes[0]!) && element.notes.indexOf(element.notes[0]!) === 0);
    assert.equal(JSON.stringify(element.notes), '[{"id":1,"tags":["a"]}]');
    assert.deepEqual(structuredClone(plain(element.notes)), [{ id: 1, tags: ['a'] }]);
    element.notes.push(element.notes[0]!);
    assert.equal(notes[1], notes[0]);
    assert.ok(Array.isArray(element.notes) && [...element.notes].length === 2 && 'tags' in element.notes[0]!);
    assert.notEqual(fresh().notes, fresh().notes);
  });
});

describe('other properties', () => {
  it('data updates when it is replaced', async () => {
    const element = fresh();
    element.whole.push({ id: 1 });
    await settled();
    assert.equal(inside(element, 'i').textContent, '0');
    element.whole = [{ id: 1 }, { id: 2 }];
    await settled();
    assert.equal(inside(element, 'i').textContent, '2');
  });

  it('one that does not reflect follows its attribute whenever that changes', async () => {
    const element = put<NoteList>('<note-list level="5"></note-list>');
    assert.equal(element.level, 5);
    element.level = 7.9;
    assert.equal(element.level, 7);
    assert.equal(element.getAttribute('level'), '5');
    await settled();
    assert.equal(inside(element, 'u').textContent, '7');
    element.setAttribute('level', '6');
    assert.equal(element.level, 6);
    element.removeAttribute('level');
    assert.equal(element.level, 3);
    await settled();
    assert.equal(inside(element, 'u').textContent, '3');
  });

  it('an early value without reflection overrides markup', () => {
    const early = put<NoteList>('<note-late level="5"></note-late>');
    early.level = 8;
    class NoteLate extends contract('note-late', {}, NoteList) {}
    NoteLate.define();
    assert.equal(early.level, 8);
    assert.equal(early.getAttribute('level'), '5');
    early.setAttribute('level', '2');
    assert.equal(early.level, 2);
  });

  it('json keeps the last valid value and reports a syntax error once', async () => {
    const element = fresh();
    assert.deepEqual(element.plan, { none: true });
    assert.equal(element.plan, element.plan);
    element.setAttribute('plan', "{'next': 'split', \"on\": [1]}");
    const good = element.plan;
    assert.deepEqual(good, { next: 'split', on: [1] });
    const { warnings } = await heard(() => {
      element.setAttribute('plan', '{"next": split}');
      assert.equal(element.plan, good);
      assert.equal(element.plan, good);
    });
    warns(warnings, [
      'Warning (attribute-value): <note-list plan="{\\"next\\": split}">: "plan" is no JSON: "s" is not expected at character 10: {"next": ▸split}. Keeping the last good value of "plan".',
    ]);
    element.plan = { a: [1, { b: null }] };
    assert.equal(element.getAttribute('plan'), '{"a":[1,{"b":null}]}');
    assert.throws(() => void (element.plan = 5n), TypeError);
    assert.equal(element.getAttribute('plan'), '{"a":[1,{"b":null}]}');
  });

  it('errors of custom parse are reported; those of print are thrown', async () => {
    const element = fresh();
    element.pair = ['a', 'b'];
    assert.deepEqual(element.pair, ['a', 'b']);
    const { warnings } = await heard(() => {
      element.setAttribute('pair', 'bad');
      assert.deepEqual(element.pair, ['a', 'b']);
    });
    warns(warnings, [
      'Warning (attribute-value): <note-list pair="bad">: "pair" could not be read: no pair. Keeping the last good value of "pair".',
    ]);
    assert.throws(() => void (element.pair = ['a', 'b', 'c']), { name: 'RangeError', message: 'too many' });
    assert.equal(element.getAttribute('pair'), 'bad');
  });
});

describe('reading in view()', () => {
  it('causes a warning outside a live expression, unless untracked', async () => {
    const { warnings, errors } = await heard(() => {
      class FixedRead extends contract('fixed-read', { attributes: { name: text() } }) {
        view() {
          return markup`<p>${this.name}</p>`;
        }
      }
      FixedRead.define();
      document.body.append(new FixedRead());
    });
    assert.deepEqual(messages(errors), []);
    warns(warnings, [
      'Warning (fixed-reading): <fixed-read>: view() reads "name" outside a live expression, so it will not follow changes. Write ${() => this.name}, or untracked(() => this.name) for a fixed value.',
    ]);
  });
});
