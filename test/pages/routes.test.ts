/** Routes, with the engine's own navigation. */
import assert from 'node:assert/strict';
import { afterEach, describe, it } from 'node:test';
import { contract, handle, markup, settled, text } from 'eltrix';
import { currentRouter, type Route, type Router, type RouterOptions, routes } from 'eltrix/routes';
import { atEnd, environment, leaves, stage, waitFor } from 'eltrix-tool/testing';

class RouteList extends contract('route-list', {}) {
  view() {
    return markup`<h1>Hives</h1>`;
  }
}
class RoutePage extends contract('route-page', { attributes: { name: text() } }) {
  view() {
    return markup`<h1>${() => this.name}</h1><div data-outlet></div>`;
  }
}
class RouteNote extends contract('route-note', { attributes: { noteId: text() } }) {
  view() {
    return markup`<h1>Note ${() => this.noteId}</h1>`;
  }
}
class RouteLate extends contract('route-late', {}) {
  view() {
    return markup`<h1>Late</h1>`;
  }
}
class RouteClosed extends contract('route-closed', { shadow: { mode: 'closed' } }) {
  readonly place = handle<HTMLElement>();

  view() {
    return markup`<div ${this.place} data-outlet></div>`;
  }
}
for (const Class of [RouteList, RoutePage, RouteNote, RouteClosed]) Class.define();

const start = location.href;
const base = `${new URL(start).pathname}/app`;
let router: Router | undefined;
leaves('listeners');
afterEach(() => {
  router?.stop();
  history.replaceState(null, '', start);
});

const until = async (what: () => unknown, ms = 10_000): Promise<void> => {
  const end = performance.now() + ms;
  while (!what()) {
    if (performance.now() > end) throw new Error(`never: ${what}`);
    await new Promise(resolve => setTimeout(resolve, 5));
  }
};

const supported = 'URLPattern' in globalThis && environment.engine !== 'simulated';

let leaving: boolean | Promise<boolean> = true;
let fails = 0;

async function begin(): Promise<HTMLElement> {
  const outlet = await stage<HTMLElement>('<main></main>');
  history.replaceState(null, '', `${base}/`);
  router = routes(
    outlet,
    [
      { path: '/', element: 'route-list', title: 'Hives' },
      {
        path: '/hives/:name',
        element: 'route-page',
        title: ({ name }) => `Hive ${name}`,
        leave: () => leaving,
        children: [{ path: '/notes/:noteId', element: 'route-note' }],
      },
      {
        path: '/yard',
        title: 'Yard',
        children: [
          { path: '/note/:noteId', element: 'route-note' },
          { path: '*', element: 'route-page', title: 'Not in the yard' },
        ],
      },
      { path: '/old/:name', redirect: '/hives/:name' },
      {
        path: '/late',
        element: 'route-late',
        load: async () => {
          await new Promise(resolve => setTimeout(resolve, 20));
          if (fails-- > 0) throw new Error('no line');
          RouteLate.define();
        },
      },
      { path: '*', element: 'route-list', title: 'Not here' },
    ],
    {
      base,
      pending: () => document.createTextNode('…'),
      failure: (error, again) => {
        const button = document.createElement('button');
        button.textContent = (error as Error).message;
        button.onclick = again;
        return button;
      },
    },
  );
  await until(() => outlet.firstElementChild?.localName === 'route-list');
  return outlet;
}

describe('routes', () => {
  it('put elements in the outlet, with parameters, titles, the focus and the history', async t => {
    if (!supported) return t.skip('there is no URLPattern');
    const outlet = await begin();
    assert.equal(document.title, 'Hives');
    await router!.go('/hives/Old%20Tin');
    const page = outlet.firstElementChild as RoutePage;
    assert.equal(page.name, 'Old Tin');
    assert.equal(document.title, 'Hive Old Tin');
    assert.equal(page.shadowRoot!.activeElement?.localName, 'h1');
    assert.deepEqual(router!.place.peek().parameters, { name: 'Old Tin' });
    await router!.go('/hives/Bramble');
    assert.equal(outlet.firstElementChild, page, 'the same route keeps its element');
    assert.equal(page.name, 'Bramble');
    history.back();
    await until(() => page.name === 'Old Tin');
    await router!.go('/no/such/place');
    assert.equal(document.title, 'Not here');
    await router!.go('/old/Rosemary');
    await until(() => location.pathname === `${base}/hives/Rosemary`);
  });

  it('follow plain links, and ignore others', async t => {
    if (!supported) return t.skip('there is no URLPattern');
    const outlet = await begin();
    const link = document.createElement('a');
    link.href = router!.href('/hives/Foxglove');
    outlet.parentElement!.append(link);
    link.click();
    await until(() => (outlet.firstElementChild as RoutePage).name === 'Foxglove');
  });

  it('nest', async t => {
    if (!supported) return t.skip('there is no URLPattern');
    const outlet = await begin();
    await router!.go('/hives/Rosemary/notes/7');
    const page = outlet.firstElementChild as RoutePage;
    const note = page.shadowRoot!.querySelector('route-note') as RouteNote;
    assert.equal(note.noteId, '7');
    await router!.go('/hives/Rosemary/notes/8');
    assert.equal(note.noteId, '8');
    assert.equal(outlet.firstElementChild, page);
    await router!.go('/hives/Rosemary');
    await settled();
    assert.equal(page.shadowRoot!.querySelector('route-note'), null);
  });

  it('nest in a closed root', async t => {
    if (!supported) return t.skip('there is no URLPattern');
    const outlet = await beginWith(
      [{ path: '/', element: 'route-closed', children: [{ path: '/note/:noteId', element: 'route-note' }] }],
      {},
      '/note/7',
    );
    const { place } = outlet.firstElementChild as RouteClosed;
    assert.equal((place.element!.firstElementChild as RouteNote).noteId, '7');
  });

  it('group others without an element, with a separate not-found route', async t => {
    if (!supported) return t.skip('there is no URLPattern');
    const outlet = await begin();
    await router!.go('/yard/note/3');
    const note = outlet.firstElementChild as RouteNote;
    assert.equal(note.noteId, '3');
    assert.equal(document.title, 'Yard');
    await router!.go('/yard/note/4');
    assert.equal(outlet.firstElementChild, note, 'the same route keeps its element');
    await router!.go('/yard/nowhere');
    assert.equal(outlet.firstElementChild!.localName, 'route-page');
    assert.equal(document.title, 'Not in the yard');
    await router!.go('/nowhere');
    assert.equal(document.title, 'Not here');
  });

  it('ask before they leave', async t => {
    if (!supported) return t.skip('there is no URLPattern');
    const outlet = await begin();
    await router!.go('/hives/Rosemary');
    leaving = false;
    await router!.go('/');
    await new Promise(resolve => setTimeout(resolve, 30));
    assert.equal(outlet.firstElementChild!.localName, 'route-page');
    assert.ok(location.pathname.endsWith('/hives/Rosemary'));
    leaving = Promise.resolve(true);
    await router!.go('/');
    await until(() => outlet.firstElementChild!.localName === 'route-list');
    leaving = true;
  });

  it('return to their entry when a guard cancels a step back, also beside an entry of a fragment', async t => {
    // With the Navigation API the engine decides whether a step can be cancelled.
    if (!supported || 'navigation' in globalThis) return t.skip('there is no URLPattern, or the engine decides');
    const outlet = await begin();
    await router!.go('/hives/Rosemary');
    location.hash = '#honey';
    await until(() => router!.place.peek().url.hash === '#honey');
    await router!.go('/hives/Bramble');
    leaving = false;
    let steps = 0;
    const count = () => void steps++;
    addEventListener('popstate', count);
    atEnd(() => removeEventListener('popstate', count));
    history.back();
    // There, and back again.
    await until(() => steps === 2);
    await until(() => location.pathname === `${base}/hives/Bramble`);
    assert.equal((outlet.firstElementChild as RoutePage).name, 'Bramble');
    leaving = true;
    history.back();
    await until(() => (outlet.firstElementChild as RoutePage).name === 'Rosemary');
    assert.equal(location.hash, '#honey');
  });

  it('need an outlet', () => {
    assert.throws(() => routes(document.querySelector('no-such')!, []), /route-outlet/);
  });

  it('load on demand, with a pending and a failed view', async t => {
    if (!supported) return t.skip('there is no URLPattern');
    const outlet = await begin();
    fails = 1;
    const going = router!.go('/late');
    await until(() => outlet.textContent === '…' && router!.isPending.peek());
    await going;
    await until(() => outlet.querySelector('button'));
    assert.equal(outlet.textContent, 'no line');
    outlet.querySelector('button')!.click();
    await until(() => outlet.firstElementChild?.localName === 'route-late');
    assert.equal(router!.isPending.peek(), false);
  });
});

/** A router of the given routes, at the base. */
async function beginWith(given: readonly Route[], options: RouterOptions = {}, from = '/'): Promise<HTMLElement> {
  const outlet = await stage<HTMLElement>('<main></main>');
  history.replaceState(null, '', base + from);
  router = routes(outlet, given, { base, ...options });
  await waitFor(() => assert.ok(router!.place.peek().routes.length > 0), { timeout: 8000 });
  return outlet;
}

/** What is reported while a function runs. */
async function reported(fn: () => unknown): Promise<string[]> {
  const messages: string[] = [];
  const listen = (event: ErrorEvent) => {
    event.preventDefault();
    messages.push((event.error as Error).message);
  };
  addEventListener('error', listen);
  try {
    await fn();
    await new Promise(resolve => setTimeout(resolve));
  } finally {
    removeEventListener('error', listen);
  }
  return messages;
}

const list: Route = { path: '/', element: 'route-list', title: 'Hives' };
const page: Route = { path: '/hives/:name', element: 'route-page' };
const lost: Route = { path: '*', element: 'route-note' };
const shown = (outlet: Element) => outlet.firstElementChild?.localName;
/** Loads when it is told to. */
function gate() {
  let open!: (error?: unknown) => void;
  const promise = new Promise<void>((resolve, reject) => {
    open = error => (error ? reject(error as Error) : resolve());
  });
  return { promise, open };
}

for (const way of ['Navigation API', 'history'] as const)
  describe(`routes, with the ${way}`, () => {
    const skip = !supported || (way === 'Navigation API' && !('navigation' in globalThis));
    const use = () => {
      if (way !== 'history' || !('navigation' in globalThis)) return;
      const before = Object.getOwnPropertyDescriptor(globalThis, 'navigation');
      Object.defineProperty(globalThis, 'navigation', { value: undefined, configurable: true });
      atEnd(() => {
        if (before) Object.defineProperty(globalThis, 'navigation', before);
        else Reflect.deleteProperty(globalThis, 'navigation');
      });
    };

    it('keep the content when the user goes back from a pending or failed route', async t => {
      if (skip) return t.skip();
      use();
      const { promise } = gate();
      const failing: Route = {
        path: '/failing',
        element: 'route-never',
        load: () => Promise.reject(new Error('no line')),
      };
      const outlet = await beginWith(
        [list, page, { path: '/late', element: 'route-never', load: () => promise }, failing, lost],
        { pending: () => document.createTextNode('…'), failure: () => document.createTextNode('failed') },
      );
      await router!.go('/hives/Bramble');
      const before = outlet.firstElementChild;
      const going = router!.go('/late');
      await waitFor(() => assert.equal(outlet.textContent, '…'), { timeout: 8000 });
      assert.equal(router!.isPending.peek(), true);
      history.back();
      await waitFor(() => assert.equal(outlet.firstElementChild, before), { timeout: 8000 });
      assert.equal(router!.isPending.peek(), false);
      assert.equal(await going, 'superseded');
      assert.equal(await router!.go('/failing'), 'failed');
      assert.equal(outlet.textContent, 'failed');
      history.back();
      await waitFor(() => assert.equal(outlet.firstElementChild, before), { timeout: 8000 });
    });

    it('return the outcome of go(), and reject invalid URLs', async t => {
      if (skip) return t.skip();
      use();
      let may = true;
      await beginWith([list, { ...page, leave: () => may }, lost]);
      assert.equal(await router!.go('/hives/Bramble'), 'arrived');
      may = false;
      assert.equal(await router!.go('/'), 'refused');
      may = true;
      assert.equal(await router!.go('/'), 'arrived');
      for (const bad of [
        'javascript:globalThis.ran = 1',
        '//other.example',
        'https://other.example/',
        'data:text/html,x',
      ])
        await assert.rejects(router!.go(bad), /route-address/, bad);
      assert.ok(!('ran' in globalThis));
    });

    it('match trailing slashes, malformed URLs, queries, and removed parameters', async t => {
      if (skip) return t.skip();
      use();
      const outlet = await beginWith([
        list,
        { path: '/scores/:year?', element: 'route-page', query: ['name'] },
        page,
        lost,
      ]);
      assert.equal(router!.href('scores'), `${base}/scores`);
      await router!.go('/scores/?name=Rosemary');
      const scores = outlet.firstElementChild as RoutePage;
      assert.equal(scores.localName, 'route-page');
      assert.equal(scores.name, 'Rosemary');
      await router!.go('/scores/1999');
      assert.equal(scores.getAttribute('year'), '1999');
      assert.equal(scores.name, '', 'what is gone has its default');
      await router!.go('/scores');
      assert.equal(outlet.firstElementChild, scores);
      assert.equal(scores.getAttribute('year'), null);
      await router!.go('/hives/100%');
      assert.equal(shown(outlet), 'route-note', 'a malformed address is not found');
      assert.deepEqual(await reported(() => router!.go('/#50%')), []);
    });

    it('ask `leave` for other parameters, and create a new element with `fresh`', async t => {
      if (skip) return t.skip();
      use();
      const asked: string[] = [];
      const outlet = await beginWith([
        list,
        {
          ...page,
          leave: (element, to) => asked.push(`${(element as RoutePage).name} ${to.pathname.slice(base.length)}`) > 0,
          fresh: true,
        },
        lost,
      ]);
      await router!.go('/hives/a');
      const first = outlet.firstElementChild;
      await router!.go('/hives/a?x=1');
      assert.equal(outlet.firstElementChild, first);
      await router!.go('/hives/b');
      assert.notEqual(outlet.firstElementChild, first);
      assert.deepEqual(asked, ['a /hives/b']);
    });

    it('report errors that would be silent, and keep working', async t => {
      if (skip) return t.skip();
      use();
      const outlet = await beginWith([
        list,
        { path: '/failing', element: 'route-never', load: () => Promise.reject(new Error('no line')) },
        {
          path: '/untitled',
          element: 'route-page',
          title: () => {
            throw new Error('no title');
          },
        },
        { path: '/circle', redirect: '/circle-too' },
        { path: '/circle-too', redirect: '/circle' },
        { path: '/missing', redirect: '/hives/:name' },
        { path: '/undefined', element: 'route-undefined' },
        {
          path: '/guarded',
          element: 'route-note',
          leave: () => {
            throw new Error('no leave');
          },
        },
        lost,
      ]);
      const cases: [string, RegExp, string][] = [
        ['/failing', /route-load.*"\/failing".*no line/, 'failed'],
        ['/untitled', /route-title.*"\/untitled".*no title/, 'arrived'],
        ['/circle', /route-redirect.*circle/, 'failed'],
        ['/missing', /route-redirect.*"\/missing".*without :name/, 'failed'],
        ['/undefined', /route-element.*<route-undefined>/, 'arrived'],
      ];
      for (const [path, message, outcome] of cases) {
        let seen: unknown;
        const messages = await reported(async () => {
          seen = await router!.go(path);
        });
        assert.equal(messages.length, 1, `${path}: ${messages}`);
        if (!environment.production) assert.match(messages[0]!, message);
        assert.equal(seen, outcome, path);
      }
      await router!.go('/guarded');
      const messages = await reported(() => router!.go('/'));
      assert.match(messages[0]!, /route-leave/);
      assert.equal(shown(outlet), 'route-list');
    });

    it('keep query and fragment in redirects, and the initial title without another one', async t => {
      if (skip) return t.skip();
      use();
      document.title = 'The page';
      await beginWith([list, { path: '/old', redirect: '/hives/x' }, page, lost]);
      assert.equal(document.title, 'Hives');
      assert.equal(await router!.go('/old?a=1#b'), 'arrived');
      assert.equal(location.href.slice(location.origin.length + base.length), '/hives/x?a=1#b');
      assert.equal(document.title, 'The page');
    });

    it('repeat a step back after an asynchronous guard', async t => {
      if (skip) return t.skip();
      use();
      const patient = { timeout: 8000 };
      let may: boolean | Promise<boolean> = true;
      let asked = 0;
      const leave = () => {
        asked++;
        return may;
      };
      const outlet = await beginWith([list, { ...page, leave }, lost]);
      await router!.go('/hives/a');
      let steps = 0;
      const count = () => void steps++;
      addEventListener('popstate', count);
      atEnd(() => removeEventListener('popstate', count));
      may = false;
      history.back();
      // Not every way back can be held: where it cannot, the element goes.
      await waitFor(() => assert.ok(asked > 0 || shown(outlet) === 'route-list'), patient);
      // Without the Navigation API the step has been made, and is taken back.
      if (way === 'history') await waitFor(() => assert.equal(steps, 2), patient);
      else await new Promise(resolve => setTimeout(resolve, 300));
      if (shown(outlet) === 'route-page') {
        assert.ok(location.pathname.endsWith('/hives/a'));
        may = Promise.resolve(true);
        history.back();
      }
      await waitFor(() => assert.equal(shown(outlet), 'route-list'), patient);
      // It was no new entry: there is a way forward.
      history.forward();
      await waitFor(() => assert.equal(shown(outlet), 'route-page'), patient);
    });

    it('follow the fragment, also in shadow roots', async t => {
      if (skip) return t.skip();
      use();
      await beginWith([list, page, lost]);
      await router!.go('/hives/a');
      location.hash = 'there';
      await waitFor(() => assert.equal(router!.place.peek().url.hash, '#there'), { timeout: 8000 });
      assert.equal(currentRouter(), router);
    });
  });

it('leaves reloads to the engine', async t => {
  const { navigation } = globalThis as { navigation?: EventTarget };
  if (!supported || !navigation) return t.skip();
  await beginWith([list, page, lost]);
  let intercepted: unknown;
  const event = Object.assign(new Event('navigate', { cancelable: true }), {
    canIntercept: true,
    hashChange: false,
    downloadRequest: null,
    formData: null,
    navigationType: 'reload',
    destination: { url: location.href, key: '' },
    intercept: (options: unknown) => {
      intercepted = options;
    },
  });
  navigation.dispatchEvent(event);
  assert.equal(intercepted, undefined);
});
