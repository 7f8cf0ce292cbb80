/** What routes do beside showing elements: fragments, leaving the page, the way back, view transitions. */
import assert from 'node:assert/strict';
import { afterEach, it } from 'node:test';
import { contract, handle, markup, type Scope } from 'eltrix';
import { currentRouter, type Route, type Router, type RouterOptions, routes } from 'eltrix/routes';
import { environment, leaves, stage, waitFor } from 'eltrix-tool/testing';

class ViewPage extends contract('view-page', {}) {
  view() {
    return markup`<h1>Page</h1><p id="there">there</p>`;
  }
}
ViewPage.define();

const supported = 'URLPattern' in globalThis && environment.engine !== 'simulated';
const start = location.href;
const base = `${new URL(start).pathname}/view`;
let router: Router | undefined;
leaves('listeners');
afterEach(() => {
  router?.stop();
  history.replaceState(null, '', start);
});

async function begin(page: Partial<Route> = {}, options: RouterOptions = {}): Promise<HTMLElement> {
  const outlet = await stage<HTMLElement>('<main></main>');
  history.replaceState(null, '', `${base}/`);
  router = routes(
    outlet,
    [
      { path: '/', element: 'view-page', ...page },
      { path: '/other', element: 'view-page' },
    ],
    {
      base,
      ...options,
    },
  );
  await waitFor(() => assert.equal(router!.place.peek().routes.length, 1), { timeout: 8000 });
  return outlet;
}

it('focuses the element of a fragment inside a shadow root', async t => {
  if (!supported) return t.skip();
  const outlet = await begin();
  await router!.go('/other#there');
  assert.equal(outlet.firstElementChild!.shadowRoot!.activeElement?.id, 'there');
});

class RouteHost extends contract('route-host', {}) {
  readonly main = handle();
  view() {
    return markup`<a href="${base}/other">other</a><p>${() => currentRouter()?.place.get().url.pathname}</p><main ${this.main}></main>`;
  }
  connected(scope: Scope) {
    const own = routes(this.main.element!, [{ path: '*', element: 'view-page' }], { base });
    scope.use(() => own.stop());
  }
}
RouteHost.define();

it('runs in an element: links of its shadow root are followed, and it ends with the connection', async t => {
  if (!supported) return t.skip();
  history.replaceState(null, '', `${base}/`);
  const host = await stage<RouteHost>('<route-host></route-host>');
  const at = () => host.shadowRoot!.querySelector('p')!.textContent;
  await waitFor(() => assert.equal(at(), `${base}/`), { timeout: 8000 });
  host.shadowRoot!.querySelector('a')!.click();
  await waitFor(() => assert.equal(at(), `${base}/other`), { timeout: 8000 });
  assert.equal(location.pathname, `${base}/other`);
  assert.equal(host.main.element!.firstElementChild!.localName, 'view-page');
  host.remove();
  assert.equal(currentRouter(), undefined);
});

it('asks `leave` before the page is closed', async t => {
  if (!supported) return t.skip();
  let may = false;
  await begin({ leave: () => may });
  const leaving = () => !dispatchEvent(new Event('beforeunload', { cancelable: true }));
  assert.equal(leaving(), true, 'it is held');
  may = true;
  assert.equal(leaving(), false);
});

it('waits for `ready` after a step back only', async t => {
  if (!supported) return t.skip();
  let ready = 0;
  await begin({ ready: async () => ready++ });
  await router!.go('/other');
  assert.equal(ready, 0);
  history.back();
  await waitFor(() => assert.equal(ready, 1), { timeout: 8000 });
});

it('changes the outlet in a view transition, if requested', async t => {
  if (!supported || matchMedia('(prefers-reduced-motion: reduce)').matches) return t.skip();
  let transitions = 0;
  const own = Object.getOwnPropertyDescriptor(document, 'startViewTransition');
  Object.defineProperty(document, 'startViewTransition', {
    configurable: true,
    value(change: () => void) {
      transitions++;
      change();
      return { updateCallbackDone: Promise.resolve() };
    },
  });
  try {
    const outlet = await begin({}, { transitions: true });
    const before = outlet.firstElementChild;
    await router!.go('/other');
    assert.notEqual(outlet.firstElementChild, before);
    assert.equal(transitions, 2);
  } finally {
    if (own) Object.defineProperty(document, 'startViewTransition', own);
    else Reflect.deleteProperty(document, 'startViewTransition');
  }
});
