/** Long lists of which only the rows near the viewport exist. */
import assert from 'node:assert/strict';
import { it } from 'node:test';
import { contract, data, markup, settled, stylesheet } from 'eltrix';
import { eachInView } from 'eltrix/views';
import { environment, stage, waitFor as waits } from 'eltrix-tool/testing';

/** A busy machine may need its time. */
const waitFor = (check: () => void) => waits(check, { timeout: 8000 });

interface Inspection {
  readonly id: number;
  readonly note: string;
}

const inspections = (count: number): Inspection[] =>
  Array.from({ length: count }, (_, id) => ({ id, note: `Inspection ${id}` }));

class LongList extends contract('long-list', {
  properties: { items: data<readonly Inspection[]>(() => []) },
}) {
  static styleSheets = [
    stylesheet`:host { display: block; block-size: 300px; overflow: auto } ul { margin: 0; padding: 0 } li { list-style: none; block-size: 30px }
      li.tall { block-size: 90px }`,
  ];

  readonly rows = eachInView(
    () => this.items,
    item => item.id,
    item => markup`<li tabindex="0" class=${() => item().id % 10 === 0 && 'tall'}>${() => item().note}</li>`,
    { estimate: 30, margin: 100 },
  );

  view() {
    return markup`<ul>${this.rows}</ul><p>end</p>`;
  }
}
LongList.define();

const rowsOf = (list: LongList) => [...list.shadowRoot!.querySelectorAll<HTMLElement>('li[tabindex]')];
const noteOf = (row: Element | undefined) => row?.textContent;
const frame = () => new Promise(resolve => requestAnimationFrame(() => requestAnimationFrame(resolve)));

/** The row at the upper edge of the viewport. */
function atTop(list: LongList): string | null | undefined {
  const { top } = list.getBoundingClientRect();
  return noteOf(rowsOf(list).find(row => row.getBoundingClientRect().bottom > top + 1));
}

async function staged(count: number): Promise<LongList> {
  const list = await stage<LongList>('<long-list></long-list>');
  list.items = inspections(count);
  await settled();
  await frame();
  return list;
}

const skips = environment.engine === 'simulated';

it('renders only rows near the viewport of a million', async t => {
  if (skips) return t.skip();
  const list = await staged(1_000_000);
  assert.ok(rowsOf(list).length < 40, `${rowsOf(list).length} rows`);
  assert.equal(atTop(list), 'Inspection 0');
  assert.ok(list.scrollHeight > 10_000_000);
  list.scrollTop = list.scrollHeight;
  await waitFor(() => assert.equal(noteOf(rowsOf(list).at(-1)), 'Inspection 999999'));
  assert.ok(rowsOf(list).length < 40);
  const last = rowsOf(list).at(-1)!.getBoundingClientRect();
  assert.ok(last.bottom <= list.getBoundingClientRect().bottom + 60, 'the last row can be seen');
  list.rows.scrollTo(500_000);
  await frame();
  assert.equal(atTop(list), 'Inspection 500000');
  list.scrollTop += 30;
  await waitFor(() => assert.match(atTop(list)!, /^Inspection 50000[01]$/));
  list.scrollTop = 0;
  await waitFor(() => assert.equal(atTop(list), 'Inspection 0'));
});

it('measures rows of different heights, and scrolls to a given row', async t => {
  if (skips) return t.skip();
  const list = await staged(2000);
  for (const index of [700, 30, 1500, 1999]) {
    list.rows.scrollTo(index);
    await frame();
    const row = rowsOf(list).find(one => noteOf(one) === `Inspection ${index}`);
    assert.ok(row, `row ${index} exists`);
    const box = row.getBoundingClientRect();
    const view = list.getBoundingClientRect();
    assert.ok(box.top > view.top - 1 && box.bottom < view.bottom + 30, `row ${index} is in view`);
    if (index < 1990) assert.equal(atTop(list), `Inspection ${index}`);
  }
  const [first, end] = list.rows.range();
  assert.ok(first > 1980 && end === 2000);
});

it('keeps the scroll position when items are inserted before', async t => {
  if (skips) return t.skip();
  const list = await staged(1000);
  list.rows.scrollTo(505);
  await frame();
  assert.equal(atTop(list), 'Inspection 505');
  list.items = [...inspections(1003).slice(1000), ...list.items];
  await settled();
  await frame();
  const position = rowsOf(list).find(row => noteOf(row) === 'Inspection 505');
  assert.ok(position, 'the row is still there');
});

it('keeps the focused row and its neighbours at any distance', async t => {
  if (skips) return t.skip();
  const list = await staged(10_000);
  const row = rowsOf(list)[2]!;
  row.focus();
  // WebKit scrolls to it in the next frame.
  await frame();
  list.rows.scrollTo(9000);
  await frame();
  assert.equal(list.shadowRoot!.activeElement, row);
  assert.equal(atTop(list), 'Inspection 9000');
  assert.deepEqual(rowsOf(list).slice(0, 3).map(noteOf), ['Inspection 1', 'Inspection 2', 'Inspection 3']);
  row.blur();
  list.rows.scrollTo(8000);
  await frame();
  await waitFor(() => assert.ok(!row.isConnected));
});

it('exposes count and positions to assistive technology', async t => {
  if (skips) return t.skip();
  const list = await staged(10_000);
  list.rows.scrollTo(400);
  await frame();
  const row = rowsOf(list).find(one => noteOf(one) === 'Inspection 400')!;
  assert.equal(row.getAttribute('aria-posinset'), '401');
  assert.equal(row.getAttribute('aria-setsize'), '10000');
});

it('follows changed items, and survives a disconnection', async t => {
  if (skips) return t.skip();
  const list = await staged(3);
  assert.deepEqual(rowsOf(list).map(noteOf), ['Inspection 0', 'Inspection 1', 'Inspection 2']);
  list.items = [];
  await settled();
  assert.equal(rowsOf(list).length, 0);
  list.items = inspections(5000);
  await settled();
  await frame();
  const parent = list.parentNode!;
  list.remove();
  list.items = inspections(200);
  parent.append(list);
  await settled();
  await frame();
  list.rows.scrollTo(199);
  await waitFor(() => assert.equal(noteOf(rowsOf(list).at(-1)), 'Inspection 199'));
});

class LongTable extends contract('long-table', {
  properties: { items: data<readonly Inspection[]>(() => []), keys: data<readonly unknown[]>(() => []) },
}) {
  static styleSheets = [
    stylesheet`:host { display: block; block-size: 300px; overflow: auto } td { block-size: 30px; padding: 0 }`,
  ];

  readonly rows = eachInView(
    () => this.items,
    (item, index) => this.keys[index] ?? item.id,
    item => markup`<tr><td>${() => item().note}</td></tr>`,
    { estimate: 30, margin: 100 },
  );

  view() {
    return markup`<table><thead><tr><th>Note</th></tr></thead><tbody>${this.rows}</tbody></table>`;
  }
}
LongTable.define();

it('renders table rows with aria-rowindex, and spaces as rows', async t => {
  if (skips) return t.skip();
  const list = await stage<LongTable>('<long-table></long-table>');
  // Any text may be the key of a row.
  list.keys = ['gap 0', 'gap 1'];
  list.items = inspections(5000);
  await settled();
  await frame();
  const body = list.shadowRoot!.querySelector('tbody')!;
  const shown = () => [...body.rows].filter(({ cells }) => cells.length > 0);
  assert.equal(shown()[0]!.textContent, 'Inspection 0');
  list.rows.scrollTo(2500);
  await waitFor(() => assert.ok(shown().some(({ textContent }) => textContent === 'Inspection 2500')));
  assert.ok(shown().length < 60, `${shown().length} rows`);
  assert.equal(list.shadowRoot!.querySelector('table')!.getAttribute('aria-rowcount'), '5000');
  const row = shown().find(({ textContent }) => textContent === 'Inspection 2500')!;
  assert.equal(row.getAttribute('aria-rowindex'), '2501');
  assert.deepEqual([...new Set([...body.children].map(({ localName }) => localName))], ['tr']);
  list.rows.scrollTo(0);
  await waitFor(() => assert.equal(shown()[0]!.textContent, 'Inspection 0'));
});
