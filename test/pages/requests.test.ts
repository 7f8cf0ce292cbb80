/** Requests as applications need them: debounced, changing, continued, tried again. */
import assert from 'node:assert/strict';
import { it } from 'node:test';
import { contract, effect, markup, settled, signal, text } from 'eltrix';
import { debounced, request, retry, type ServerEvent, serverEvents, shared, submission } from 'eltrix/behaviours';
import { respond, stage, waitFor as waits } from 'eltrix-tool/testing';

/** A busy machine may need its time. */
const waitFor = (check: () => void) => waits(check, { timeout: 8000 });

class SearchBox extends contract('search-box', { attributes: { search: text() } }) {
  readonly wanted = debounced(() => this.search, 60);
  readonly found = request<string[]>(() => `/found?q=${this.wanted.get()}`);

  view() {
    return markup`${() => this.found.value?.join()}`;
  }
}
SearchBox.define();

it('sends one request for a URL that changes quickly', async () => {
  const requests = respond(/\/found/, asked => [new URL(asked.url).searchParams.get('q')]);
  const box = await stage<SearchBox>('<search-box search="a"></search-box>');
  await waitFor(() => assert.equal(box.shadowRoot!.textContent, 'a'));
  for (const search of ['ab', 'abc', 'abcd']) {
    box.search = search;
    await settled();
  }
  await waitFor(() => assert.equal(box.shadowRoot!.textContent, 'abcd'));
  assert.deepEqual(
    requests.map(({ url }) => new URL(url).search),
    ['?q=a', '?q=abcd'],
  );
});

it('delays an effect, and starts again for each subscriber', async () => {
  const key = signal('a');
  const quiet = debounced(() => key.get(), 30);
  const seen: string[] = [];
  const stop = effect(() => void seen.push(quiet.get()));
  key.set('b');
  await settled();
  assert.deepEqual(seen, ['a']);
  await waitFor(() => assert.deepEqual(seen, ['a', 'b']));
  stop();
  key.set('c');
  const other = effect(() => void seen.push(quiet.get()));
  assert.deepEqual(seen, ['a', 'b', 'c']);
  other();
});

interface Saved {
  readonly name: string;
}

class HiveForm extends contract('hive-form', {}) {
  readonly saving = submission<Saved>(() => '/hives', { body: data => Object.fromEntries(data) });

  view() {
    return markup`<form onsubmit=${this.saving.submit}><input name="name" value="Rosemary"><button name="how" value="now" disabled=${() =>
      this.saving
        .isPending}>Save</button></form><p>${() => this.saving.error && `failed with ${this.saving.status}`}</p>`;
  }
}
HiveForm.define();

it('sends a form once, and shows pending state and answer', async () => {
  const answers: (() => Response)[] = [
    () => Response.json({ name: 'taken' }, { status: 422 }),
    () => Response.json({ name: 'Rosemary' }),
  ];
  let open: (() => void) | undefined;
  const requests = respond('/hives', async () => {
    await new Promise<void>(resolve => {
      open = resolve;
    });
    return answers.shift()!();
  });
  const form = await stage<HiveForm>('<hive-form></hive-form>');
  const button = form.shadowRoot!.querySelector('button')!;
  const send = async () => {
    button.form!.requestSubmit(button);
    button.form!.requestSubmit(button);
    await settled();
    assert.equal(button.disabled, true);
    await waitFor(() => assert.ok(open));
    open!();
    open = undefined;
    await waitFor(() => assert.equal(button.disabled, false));
  };
  await send();
  assert.equal(form.shadowRoot!.querySelector('p')!.textContent, 'failed with 422');
  assert.deepEqual(await form.saving.error!.answer!.json(), { name: 'taken' });
  await send();
  assert.equal(form.shadowRoot!.querySelector('p')!.textContent, '');
  assert.deepEqual(form.saving.value, { name: 'Rosemary' });
  assert.equal(requests.length, 2, 'a second submit while one is pending sends nothing');
  assert.equal(requests[0]!.method, 'POST');
  assert.equal(requests[0]!.headers.get('content-type'), 'application/json');
  assert.deepEqual(await requests[0]!.json(), { name: 'Rosemary', how: 'now' });
});

it('sends FormData to the action of a form, and can be aborted', async () => {
  const plain = submission<string>(undefined, { as: answer => answer.text() });
  const requests = respond(/\/notes$/, request =>
    requests.length === 1 ? 'kept' : new Promise<never>(() => void request),
  );
  const form = await stage<HTMLFormElement>('<form action="/notes" method="post"><input name="note" value="a"></form>');
  form.addEventListener('submit', plain.submit);
  form.requestSubmit();
  await waitFor(() => assert.equal(plain.value, 'kept'));
  assert.equal((await requests[0]!.formData()).get('note'), 'a');
  const second = plain.send('b', '/notes');
  plain.abort();
  assert.equal(await second, undefined);
  assert.deepEqual([plain.isPending, plain.error], [false, undefined]);
  assert.equal(await plain.send('x'), undefined);
  assert.match(plain.error!.message, /submission-address/);
});

it('sends again at once after an answer, or after it was aborted', async () => {
  const answers: ((text: string) => void)[] = [];
  const sent: unknown[] = [];
  const saving = submission<string>(() => '/notes', {
    as: answer => answer.text(),
    // It does not care for the signal.
    send(_, { body }) {
      sent.push(body);
      return new Promise(resolve => answers.push(text => resolve(new Response(text))));
    },
  });
  const first = saving.send('a');
  saving.abort();
  assert.equal(saving.isPending, false);
  const second = saving.send('b');
  assert.deepEqual(sent, ['a', 'b']);
  answers[0]!('late');
  assert.deepEqual([await first, saving.value, saving.isPending], [undefined, undefined, true]);
  // What waits for the end sends the next one.
  const stop = effect(() => void (saving.isPending || sent.length > 2 || saving.send('c')));
  answers[1]!('kept');
  assert.deepEqual([await second, saving.value], ['kept', 'kept']);
  await settled();
  assert.deepEqual([sent, saving.isPending], [['a', 'b', 'c'], true]);
  stop();
  saving.abort();
});

it('has the error of a body that cannot be made', async () => {
  const saving = submission(() => '/notes', {
    body() {
      throw new Error('no body');
    },
  });
  const form = await stage<HTMLFormElement>('<form></form>');
  form.addEventListener('submit', saving.submit);
  form.requestSubmit();
  await waitFor(() => assert.deepEqual([saving.error?.message, saving.isPending], ['no body', false]));
});

it('continues interrupted server-sent events', async () => {
  const parts = ['id: 1\ndata: a\n\ndata: b\n\n', 'id: 3\n\nevent: end\ndata: c\n\n'];
  const requests = respond('/events', () => new Response(parts.shift() ?? ''));
  const events = request<ServerEvent[]>(() => '/events', {
    as: serverEvents,
    again: () => (parts.length > 0 ? 5 : undefined),
  });
  const stop = effect(() => void events.get());
  await waitFor(() => assert.equal(events.peek().value?.length, 3));
  assert.deepEqual(events.peek().value, [
    { type: 'message', data: 'a', id: '1' },
    { type: 'message', data: 'b', id: '1' },
    { type: 'end', data: 'c', id: '3' },
  ]);
  assert.deepEqual(
    requests.map(({ headers }) => headers.get('last-event-id')),
    [null, '1'],
  );
  stop();
});

it('reads server-sent events with each line end of the standard, and drops one that the end interrupts', async () => {
  for (const [nth, end] of ['\n', '\r\n', '\r'].entries()) {
    const text = ['id: 1', 'data: a', '', ': comment', 'data: b', 'data:c', '', 'data: lost'].join(end);
    // Each byte arrives alone: a line end may be split.
    const body = new ReadableStream({
      async start(controller) {
        for (const byte of new TextEncoder().encode(text)) controller.enqueue(Uint8Array.of(byte));
        controller.close();
      },
    });
    respond(`/ends/${nth}`, () => new Response(body));
    const events = request<ServerEvent[]>(() => `/ends/${nth}`, { as: serverEvents });
    const stop = effect(() => void events.get());
    await waitFor(() => assert.equal(events.peek().isPending, false));
    assert.deepEqual(
      events.peek().value,
      [
        { type: 'message', data: 'a', id: '1' },
        { type: 'message', data: 'b\nc', id: '1' },
      ],
      JSON.stringify(end),
    );
    stop();
  }
});

it('does not request again after a delay that no timer has', async () => {
  const requests = respond('/once', () => ({}));
  const once = request(() => '/once', { again: () => Number.POSITIVE_INFINITY });
  const stop = effect(() => void once.get());
  await waitFor(() => assert.equal(once.peek().status, 200));
  // A timer of no milliseconds would have ended before this one.
  await new Promise(resolve => setTimeout(resolve, 20));
  assert.equal(requests.length, 1);
  stop();
});

it('shares one answer, and copies it for all askers but one', async t => {
  let copies = 0;
  const { clone } = Response.prototype;
  t.mock.method(Response.prototype, 'clone', function (this: Response) {
    copies++;
    return clone.call(this);
  });
  let answer!: (response: Response) => void;
  const pending = new Promise<Response>(resolve => {
    answer = resolve;
  });
  const sent = t.mock.method(globalThis, 'fetch', () => pending);
  const controls = [new AbortController(), new AbortController(), new AbortController()];
  const asked = controls.map(({ signal }) => shared('/shared-once', { signal }));
  asked[1]!.catch(() => {});
  controls[1]!.abort();
  answer(new Response('text'));
  // What is not read of a copied answer stays in memory.
  assert.deepEqual(await Promise.all([asked[0]!, asked[2]!].map(async one => (await one).text())), ['text', 'text']);
  assert.deepEqual([sent.mock.callCount(), copies], [1, 1]);
});

it('sends where the button says that was pressed, as the browser does', async () => {
  const sent = submission(undefined, { as: async () => true });
  const requests = respond(/\/forms\//, () => '');
  const form = await stage<HTMLFormElement>(
    `<form action="/forms/save" method="post"><input name="formaction" value="x">
      <button formaction="/forms/archive" formmethod="put">Archive</button><button>Save</button></form>`,
  );
  form.addEventListener('submit', sent.submit);
  for (const button of form.querySelectorAll('button')) {
    form.requestSubmit(button);
    await waitFor(() => assert.equal(sent.isPending, false));
  }
  assert.deepEqual(
    requests.map(({ method, url }) => `${method} ${new URL(url).pathname}`),
    ['PUT /forms/archive', 'POST /forms/save'],
  );
});

it('sends the request again when the network is back', async () => {
  let isOnline = false;
  const requests = respond('/weather', () => {
    if (!isOnline) throw new TypeError('no network');
    return { sky: 'clear' };
  });
  const weather = request<{ sky: string }>(() => '/weather', { again: retry(0) });
  const stop = effect(() => void weather.get());
  await waitFor(() => assert.match(weather.peek().error?.message ?? '', /network/));
  isOnline = true;
  dispatchEvent(new Event('online'));
  await waitFor(() => assert.equal(weather.peek().value?.sky, 'clear'));
  assert.equal(requests.length, 2);
  stop();
});
