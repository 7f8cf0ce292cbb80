/** Random lists whose rows leave slowly: those that stay are in order at any moment, and none that has left stays behind. */
import assert from 'node:assert/strict';
import { it } from 'node:test';
import { contract, each, live, markup, settled, signal } from 'eltrix';
import { leaving } from 'eltrix/views';
import { environment, stage } from 'eltrix-tool/testing';
import { random } from '../support/random.ts';

/** The ends of the animations that run. */
let ends: { readonly element: Element; end(failed?: boolean): void }[] = [];
const slow = (element: Element) =>
  new Promise<void>((resolve, reject) => {
    ends.push({ element, end: failed => (failed ? reject(new DOMException('', 'AbortError')) : resolve()) });
  });

class LeavingList extends contract('leaving-list', {
  properties: { rows: live<{ id: number; text: string }[]>(() => []) },
}) {
  readonly shows = signal(true);

  view() {
    // A row of two elements, of which the first leaves; a condition around another element that does.
    return markup`<ol>${each(
      () => this.rows,
      row => row.id,
      row => markup`<li ${leaving(slow)}>${() => `${row().id}${row().text}`}</li><hr>`,
    )}</ol>${() => this.shows.get() && markup`<p ${leaving(slow)}>note</p>`}<footer></footer>`;
  }
}
LeavingList.define();

const programs = 20;
const steps = 18;

it(`${programs} random programs of ${steps} changes`, {
  skip: environment.engine === 'simulated' && 'there are no animations',
}, async () => {
  for (let program = 0; program < programs; program++) {
    const next = random(program + 1);
    ends = [];
    const list = await stage<LeavingList>('<leaving-list></leaving-list>');
    const root = list.shadowRoot!;
    const done: string[] = [];
    let count = 0;
    for (let step = 0; step < steps; step++) {
      const { rows } = list;
      const what = next(10);
      if (what < 3) {
        const at = next(rows.length + 1);
        done.push(`insert ${count} at ${at}`);
        rows.splice(at, 0, { id: count++, text: '' });
      } else if (what < 5 && rows.length > 0) {
        const at = next(rows.length);
        done.push(`remove ${rows[at]!.id}`);
        rows.splice(at, 1);
      } else if (what === 5 && rows.length > 1) {
        done.push('reverse');
        rows.reverse();
      } else if (what === 6 && count > 0) {
        // A key that has left may come again.
        const id = next(count);
        if (rows.some(row => row.id === id)) continue;
        done.push(`again ${id}`);
        rows.unshift({ id, text: '' });
      } else if (what === 7) {
        done.push('toggle');
        list.shows.set(!list.shows.peek());
      } else if (what === 8 && rows.length > 0) {
        const row = rows[next(rows.length)]!;
        done.push(`text of ${row.id}`);
        row.text += '!';
      } else if (what === 9) {
        const way = next(4);
        if (way === 0) {
          done.push('clear');
          list.rows = [];
        } else if (way === 1) {
          done.push('away and back');
          const parent = list.parentNode!;
          list.remove();
          await settled();
          parent.append(list);
        } else {
          const one = ends.splice(next(ends.length), 1)[0];
          done.push(`an animation ends${way === 2 ? ', cancelled' : ''}`);
          one?.end(way === 2);
          await Promise.resolve();
        }
      }
      await settled();
      await new Promise(resolve => setTimeout(resolve));
      const running = new Set(ends.map(({ element }) => element).filter(element => element.isConnected));
      const here = [...root.querySelectorAll('li')];
      const journey = `program ${program}: ${done.join('; ')}`;
      assert.deepEqual(
        { journey, rows: here.filter(element => !running.has(element)).map(({ textContent }) => textContent) },
        { journey, rows: list.rows.map(({ id, text }) => `${id}${text}`) },
      );
      assert.deepEqual(
        { journey, leaving: here.filter(element => element.inert).length },
        { journey, leaving: here.filter(element => running.has(element)).length },
      );
      assert.equal(root.querySelectorAll('hr').length, list.rows.length, journey);
      const notes = [...root.querySelectorAll('p')].filter(element => !running.has(element)).length;
      assert.equal(notes, list.shows.peek() ? 1 : 0, journey);
      // The element that stands last is last.
      assert.equal(root.lastElementChild!.localName, 'footer', journey);
    }
    for (const { end } of ends.splice(0)) end();
    await new Promise(resolve => setTimeout(resolve));
    assert.equal(
      root.querySelectorAll('li').length,
      list.rows.length,
      `program ${program}, at the end: ${done.join('; ')}`,
    );
    assert.equal(root.querySelectorAll('[inert]').length, 0, `program ${program}`);
    list.remove();
  }
});
