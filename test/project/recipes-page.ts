/** Runs in a page of a project that has the code of the guides. */
import assert from 'node:assert/strict';
import { it } from 'node:test';
import { deep, recordEvents, respond, settled, stage, user, waitFor } from 'eltrix-tool/testing';

// Written by the test.
const defined: string = './defined.ts';
await import(defined);

const textOf = (element: Element) => element.shadowRoot!.textContent!.trim();

it('a dialog answers, and returns the focus', async () => {
  const opener = await stage<HTMLButtonElement>('<button>Open</button><ask-dialog question="Sure?">More</ask-dialog>');
  const dialog = opener.nextElementSibling as HTMLElement & { open(): void };
  opener.onclick = () => dialog.open();
  const log = recordEvents(dialog, 'ask-answer');
  for (const [how, isYes] of [
    [() => user.click(deep('button[value=yes]', dialog)), true],
    [() => user.press('Escape'), false],
    [() => user.press('Enter'), true],
  ] as const) {
    const before = log.length;
    await user.click(opener);
    assert.equal(dialog.shadowRoot!.activeElement!.textContent, 'Yes');
    await how();
    await waitFor(() => assert.deepEqual(log.details.slice(before), [{ isYes }]));
    assert.equal(document.activeElement, opener);
  }
});

it('a menu is used by keyboard, and returns the focus', async () => {
  const menu = await stage('<hive-menu></hive-menu>');
  const log = recordEvents(menu, 'menu-choose');
  const focused = () => menu.shadowRoot!.activeElement?.textContent;
  for (const end of ['Enter', 'Escape']) {
    await user.click(deep('button', menu));
    await waitFor(() => assert.equal(focused(), 'Move'));
    for (const [key, item] of [
      ['ArrowDown', 'Merge with another'],
      ['ArrowUp', 'Move'],
      ['ArrowUp', 'Sell'],
      ['ArrowDown', 'Move'],
      ['End', 'Sell'],
    ] as const) {
      await user.press(key);
      assert.equal(focused(), item);
    }
    await user.press(end);
    await waitFor(() => assert.equal(deep('#menu', menu).matches(':popover-open'), false));
    assert.equal(focused(), 'Hive…');
  }
  assert.deepEqual(log.details, [{ what: 'sell' }]);
});

it('a toast shows for a time', async () => {
  const list = await stage<HTMLElement & { show(text: string, seconds: number): void }>('<toast-list></toast-list>');
  list.show('Saved.', 0.1);
  list.show('Again.', 0.3);
  await settled();
  assert.equal(textOf(list), 'Saved.Again.');
  await waitFor(() => assert.equal(textOf(list), 'Again.'));
  await waitFor(() => assert.equal(textOf(list), ''));
});

it('a name is edited in place', async () => {
  const name = await stage('<editable-name name="Rosemary"></editable-name>');
  const log = recordEvents(name, 'name-change');
  for (const [typed, key, shown] of [
    ['Thyme', 'Enter', 'Thyme'],
    ['Sage', 'Escape', 'Thyme'],
  ] as const) {
    await user.click(deep('button', name));
    await user.type(deep('input', name), typed);
    await user.press(key);
    await waitFor(() => assert.equal(name.shadowRoot!.activeElement?.localName, 'button'));
    assert.equal(textOf(name), shown);
  }
  assert.deepEqual(log.details, [{ name: 'Thyme' }]);
});

it('a form shows the errors of the server, and focuses the first field that has one', async () => {
  const editor = await stage('<hive-editor></hive-editor>');
  const answer = JSON.stringify({ boxes: 'There are only three.' });
  const requests = respond('/hives', () => new Response(answer, { status: 422 }));
  await user.click(deep('button', editor));
  assert.equal(requests.length, 0);
  await user.type(deep('[name=name]', editor), 'Rosemary');
  await user.type(deep('[name=boxes]', editor), '4');
  await user.click(deep('button', editor));
  await waitFor(() => assert.equal(deep('#boxes-error', editor).textContent, 'There are only three.'));
  await waitFor(() => assert.equal(editor.shadowRoot!.activeElement, deep('[name=boxes]', editor)));
  assert.deepEqual(await requests[0]!.json(), { name: 'Rosemary', boxes: '4' });
});

it('rows have the look that the page gives them', async () => {
  const links = await stage<HTMLElement & { hives: object[] }>(`<hive-links>
    <template><li><a itemprop="url"><b itemprop="name"></b></a></li></template>
  </hive-links>`);
  links.hives = [{ id: 1, name: 'Rosemary', url: '/rosemary' }];
  await settled();
  const row = '<li><a itemprop="url" href="/rosemary"><b itemprop="name">Rosemary</b></a></li>';
  assert.equal(deep('ul', links).innerHTML, row);
});

it('weather is asked for when it is seen, and stays until there is newer', async () => {
  const requests = respond(/\/weather\//, ({ url }) => (url.endsWith('oslo') ? { sky: 'clear' } : 503));
  const strip = await stage<HTMLElement & { place: string }>('<weather-strip place="oslo"></weather-strip>');
  await waitFor(() => assert.equal(textOf(strip), 'clear'));
  strip.place = 'rome';
  await waitFor(() => assert.equal(requests.length, 2));
  assert.match(textOf(strip), /^clear/);
});

it('a form is saved once, and says how it went', async () => {
  const form = await stage<HTMLElement & { saving: { send(body: object): Promise<unknown> } }>(
    '<hive-form></hive-form>',
  );
  const answers: ((answer: Response) => void)[] = [];
  respond('/hives', () => new Promise<Response>(resolve => answers.push(resolve)));
  await user.type(deep('input', form), 'Thyme');
  await user.click(deep('button', form));
  await waitFor(() => assert.equal(deep('button', form).textContent, 'Saving…'));
  void form.saving.send({ name: 'Sage' });
  await waitFor(() => assert.equal(answers.length, 1));
  answers[0]!(new Response('{ "id": 7 }'));
  await waitFor(() => assert.match(textOf(form), /Saved as hive 7\.$/));
  void form.saving.send({ name: 'Sage' });
  await waitFor(() => assert.equal(answers.length, 2));
  answers[1]!(new Response('', { status: 500 }));
  await waitFor(() => assert.match(deep('[role=alert]', form).textContent!, /^Not saved: .*500/));
});

it('a promise shows its states', async () => {
  const summary = await stage<HTMLElement & { hive: string }>('<hive-summary hive="A"></hive-summary>');
  await waitFor(() => assert.equal(textOf(summary), 'A8 frames'));
  summary.hive = 'B';
  await settled();
  await waitFor(() => assert.equal(textOf(summary), 'B8 frames'));
});

it('texts, numbers and dates follow the language', async () => {
  const section = await stage<HTMLElement>('<section lang="de"><hive-count count="12000"></hive-count></section>');
  const count = section.querySelector<HTMLElement & { count: number }>('hive-count')!;
  await waitFor(() => assert.match(textOf(count), /^12\.000 Stöcke\s+Geöffnet am \d/));
  count.count = 1;
  section.lang = 'en';
  await settled();
  assert.match(textOf(count), /^1 hive\s+Opened on [A-Z]/);
});
