/** Routes, with the engine's own navigation. */
import assert from 'node:assert/strict';
import { afterEach, describe, it } from 'node:test';
import { contract, markup, settled, text } from 'eltrix';
import { type Router, routes } from 'eltrix/routes';
import { environment, leaves, stage } from 'eltrix-tool/testing';

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
for (const Class of [RouteList, RoutePage, RouteNote]) Class.define();

const start = location.href;
const base = `${new URL(start).pathname}/app`;
let router: Router | undefined;
leaves('listeners');
afterEach(() => {
  router?.stop();
  history.replaceState(null, '', start);
});

const until = async (what: () => unknown, ms = 3000): Promise<void> => {
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

  it('follow plain links, and leave others alone', async t => {
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

  it('group others without an element of their own, with a not-found of their own', async t => {
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

  it('load late, show that they do, and what to do when it fails', async t => {
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
