/** Random changes of long lists: after each, the rows near the viewport are there, in order, without a gap. */
import assert from 'node:assert/strict';
import { it } from 'node:test';
import { contract, live, markup, settled, signal, stylesheet } from 'eltrix';
import { eachInView } from 'eltrix/views';
import { environment, stage } from 'eltrix-tool/testing';
import { random } from '../support/random.ts';

interface Entry {
  id: number;
  height: number;
}

class RandomList extends contract('random-list', { properties: { items: live<Entry[]>(() => []) } }) {
  static styleSheets = [
    stylesheet`:host { display: block; overflow: auto } ul { margin: 0; padding: 0 } li { list-style: none; box-sizing: border-box } h2 { block-size: 70px; margin: 0 }`,
  ];
  readonly headed = signal(false);
  readonly rows = eachInView(
    () => this.items,
    item => item.id,
    item => markup`<li style=${() => ({ height: `${item().height}px` })}>${() => `${item().id}`}</li>`,
    { estimate: 40, margin: 120 },
  );

  view() {
    return markup`${() => this.headed.get() && markup`<h2>Head</h2>`}<ul>${this.rows}</ul>`;
  }
}
RandomList.define();

const frame = () => new Promise(resolve => requestAnimationFrame(() => resolve(undefined)));
const programs = 4;
const steps = 14;

/** What is wrong at this moment; empty if nothing is. */
function wrong(list: RandomList): string {
  const rows = [...list.shadowRoot!.querySelectorAll('li')].filter(row => row.textContent !== '');
  const items = list.items.map(({ id }) => String(id));
  const first = rows.length > 0 ? items.indexOf(rows[0]!.textContent!) : 0;
  // A row with the focus may be apart; here there is none.
  const shown = rows.map(row => row.textContent).join();
  if (shown !== items.slice(first, first + rows.length).join()) return `rows ${shown} of ${items.join()}`;
  const { top, bottom } = list.getBoundingClientRect();
  const rects = rows.map(row => row.getBoundingClientRect());
  for (const [at, rect] of rects.entries())
    if (at > 0 && Math.abs(rect.top - rects[at - 1]!.bottom) > 1) return `a gap before ${rows[at]!.textContent}`;
  if (items.length === 0) return '';
  // The start of the list may be in the viewport, and so may its end.
  if (rects[0]!.top > top + 1 && first > 0) return `nothing above ${rows[0]!.textContent}`;
  if (rects.at(-1)!.bottom < bottom - 1 && first + rows.length < items.length)
    return `nothing below ${rows.at(-1)!.textContent}`;
  if (rows.length > 80) return `${rows.length} rows`;
  return '';
}

it(`${programs} random programs of ${steps} changes`, {
  skip: environment.engine === 'simulated' && 'nothing is laid out',
}, async () => {
  for (let program = 0; program < programs; program++) {
    const next = random(program + 1);
    const list = await stage<RandomList>('<random-list></random-list>');
    list.style.setProperty('height', '240px');
    let made = 0;
    const entries = (count: number): Entry[] =>
      Array.from({ length: count }, () => ({ id: made++, height: [20, 40, 40, 130][next(4)]! }));
    const done: string[] = [`program ${program}`];
    list.items = entries([0, 3, 40, 400, 3000][next(5)]!);
    for (let step = 0; step <= steps; step++) {
      // It settles in some frames.
      let problem = 'unknown';
      for (let frames = 0; frames < 60 && problem !== ''; frames++) {
        await settled();
        await frame();
        problem = wrong(list);
      }
      assert.equal(problem, '', `${done.join('; ')}; at ${list.scrollTop} of ${list.scrollHeight}`);
      const { items } = list;
      const at = next(items.length + 1);
      switch (next(11)) {
        case 0:
          done.push(`insert 1 at ${at}`);
          items.splice(at, 0, ...entries(1));
          break;
        case 1:
          done.push(`insert 60 at ${at}`);
          items.splice(at, 0, ...entries(60));
          break;
        case 2:
          done.push(`remove 1 at ${at}`);
          items.splice(at, 1);
          break;
        case 3:
          done.push(`remove 100 at ${at}`);
          items.splice(at, 100);
          break;
        case 4:
          done.push('reverse');
          items.reverse();
          break;
        case 5:
          if (at < items.length) {
            done.push(`height of ${at}`);
            items[at]!.height = [10, 300][next(2)]!;
          }
          break;
        case 6:
          done.push('scroll to the end');
          list.scrollTop = list.scrollHeight;
          break;
        case 7:
          done.push(`scroll to row ${at}`);
          list.rows.scrollTo(Math.min(at, items.length - 1));
          break;
        case 8: {
          const by = next(2000) - 1000;
          done.push(`scroll by ${by}`);
          list.scrollTop += by;
          break;
        }
        case 9: {
          const height = [0, 60, 240, 500][next(4)]!;
          done.push(`height ${height}`);
          list.style.setProperty('height', `${height}px`);
          break;
        }
        default:
          if (next(2) === 0) {
            done.push('a head above');
            list.headed.set(!list.headed.peek());
          } else {
            done.push('away and back');
            const parent = list.parentNode!;
            list.remove();
            await settled();
            parent.append(list);
          }
      }
    }
    list.remove();
  }
});
