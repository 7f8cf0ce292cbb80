/** Random journeys: what address, outlet, title and history show after each step is what a model of them says. */
import assert from 'node:assert/strict';
import { afterEach, it } from 'node:test';
import { contract, markup, text } from 'eltrix';
import { type Router, routes } from 'eltrix/routes';
import { atEnd, environment, stage } from 'eltrix-tool/testing';
import { random } from '../support/random.ts';

class JourneyPage extends contract('journey-page', { attributes: { name: text() } }) {
  view() {
    return markup`<h1>${() => this.name}</h1><div data-outlet></div>`;
  }
}
class JourneyNote extends contract('journey-note', { attributes: { noteId: text() } }) {
  view() {
    return markup`<h2>${() => this.noteId}</h2>`;
  }
}
class JourneyList extends contract('journey-list', {}) {}
for (const Class of [JourneyPage, JourneyNote, JourneyList]) Class.define();

const start = location.href;
const base = `${new URL(start).pathname}/journey`;
let router: Router | undefined;
/** What the guard of a page says; a promise of it in every other program. */
let may = true;
let isAsync = false;
/** The number of the program: each loads elements that were not there before. */
let program = 0;
afterEach(() => {
  router?.stop();
  history.replaceState(null, '', start);
});

/** Where the model stands. */
interface Place {
  readonly path: string;
  readonly hash: string;
}

const paths = [
  '/',
  '/hives/a',
  '/hives/b',
  '/hives/a/notes/1',
  '/hives/b/notes/2',
  '/hives/a?x=1',
  '/nowhere',
  '/yard',
  '/old/a',
  '/late/0',
  '/late/1',
];
/** Where a redirect leads. */
const targetOf = (path: string) => path.replace('/old/', '/hives/');
const hive = (path: string) => /^\/hives\/(\w)/.exec(path)?.[1];
const note = (path: string) => /notes\/(\w)/.exec(path)?.[1];
/** What is shown at a path. */
function expected(path: string): string {
  if (path === '/nowhere') return 'journey-note none: Not here';
  if (path === '/yard') return 'journey-list: Yard';
  if (path.startsWith('/late/')) return `journey-late-${path.at(-1)}-${program}: Late`;
  const name = hive(path);
  if (name === undefined) return 'journey-list: Hives';
  return `journey-page ${name} ${note(path) ?? 'no note'}: Hive ${name}`;
}

function shown(outlet: Element): string {
  const [first] = outlet.children;
  if (first instanceof JourneyPage) {
    const inner = first.shadowRoot!.querySelector('[data-outlet]')!.firstElementChild as JourneyNote | null;
    return `journey-page ${first.name} ${inner?.noteId ?? 'no note'}: ${document.title}`;
  }
  return `${first?.localName}${first instanceof JourneyNote ? ' none' : ''}: ${document.title}`;
}

const task = () => new Promise(resolve => setTimeout(resolve));

class Journey {
  readonly entries: Place[] = [{ path: '/', hash: '' }];
  at = 0;
  readonly done: string[] = [];

  constructor(
    readonly outlet: Element,
    readonly next: (below: number) => number,
    /** Whether a step in the history can be cancelled. */
    readonly cancels: boolean,
  ) {}

  get here(): Place {
    return this.entries[this.at]!;
  }

  push(place: Place, replace = false): void {
    if (!replace) this.entries.splice(++this.at);
    this.entries[this.at] = place;
  }

  /** Whether the guard is asked on the way to a path. */
  isGuarded(path: string): boolean {
    const name = hive(this.here.path);
    return name !== undefined && hive(targetOf(path)) !== name;
  }

  async step(): Promise<void> {
    const { next } = this;
    const path = paths[next(paths.length)]!;
    const what = next(10);
    const { path: from, hash } = this.here;
    if (what < 3) await this.go(path, false);
    else if (what === 3) await this.go(path, true);
    else if (what === 4 && path !== from) {
      // Two at once: the first is superseded, or has arrived before.
      const other = targetOf(paths[next(paths.length)]!);
      if (other === from || other === path || targetOf(path) === from) return;
      may = true;
      if (next(2) === 0) {
        // Going back before it is there.
        this.done.push(`go ${path} and back`);
        const going = router!.go(path);
        const isThere = () => location.href.endsWith(base + targetOf(path));
        for (let tries = 0; tries < 3 && !isThere(); tries++) await task();
        const goesBack = isThere();
        if (goesBack) history.back();
        assert.match(await going, /superseded|arrived/, this.journey);
        this.push({ path: targetOf(path), hash: '' });
        if (goesBack) this.at--;
        return this.check();
      }
      this.done.push(`go ${path} and ${other} at once`);
      const [first, second] = await Promise.all([router!.go(path), router!.go(other)]);
      assert.match(first, /superseded|arrived/, this.journey);
      assert.equal(second, 'arrived', this.journey);
      // Whether the first became an entry depends on the engine: begin again from here.
      this.entries.splice(0, this.entries.length, { path: other, hash: '' });
      this.at = 0;
    } else if (what === 5) {
      const fragment = `#f${next(3)}`;
      if (fragment === hash) return;
      this.done.push(`fragment ${fragment}`);
      location.hash = fragment;
      this.push({ path: from, hash: fragment });
    } else if (what === 6) {
      const fragment = `#g${next(3)}`;
      if (fragment === hash) return;
      this.done.push(`go ${from}${fragment}`);
      assert.equal(await router!.go(from + fragment), 'arrived', this.journey);
      this.push({ path: from, hash: fragment });
    } else if (what === 7 && targetOf(path) !== from) {
      this.done.push(`link ${path}`);
      // Of a link the guard sees what leads elsewhere.
      may = next(3) > 0 || !(this.isGuarded(path) || (path !== targetOf(path) && hive(from)));
      const isRefused = !may;
      const link = Object.assign(document.createElement('a'), { href: base + path });
      this.outlet.after(link);
      link.click();
      link.remove();
      if (!isRefused) this.push({ path: targetOf(path), hash: '' });
      else this.done.push('refused');
    } else if (what >= 8) await this.travel(what === 8 ? -1 : 1);
    await this.check();
  }

  async go(path: string, replace: boolean): Promise<void> {
    may = this.next(3) > 0;
    const isRefused = !may && this.isGuarded(path);
    this.done.push(`${replace ? 'replace' : 'go'} ${path}${isRefused ? ', refused' : ''}`);
    assert.equal(await router!.go(path, { replace }), isRefused ? 'refused' : 'arrived', this.journey);
    if (!isRefused) this.push({ path: targetOf(path), hash: '' }, replace);
  }

  async travel(by: number): Promise<void> {
    const to = this.entries[this.at + by];
    if (!to) return;
    may = !this.cancels || this.next(3) > 0;
    const isRefused = !may && this.isGuarded(to.path);
    this.done.push(`${by < 0 ? 'back' : 'forward'}${isRefused ? ', refused' : ''}`);
    let steps = 0;
    const count = () => void steps++;
    addEventListener('popstate', count);
    history.go(by);
    // It goes there, and comes back.
    for (let tries = 0; steps < (isRefused ? 2 : 1) && tries < 400; tries++) await new Promise(r => setTimeout(r, 5));
    removeEventListener('popstate', count);
    if (!isRefused) this.at += by;
  }

  async check(): Promise<void> {
    const { path, hash } = this.here;
    const wanted = `${base}${path}${hash} ${expected(path)}`;
    const present = () => `${location.href.slice(location.origin.length)} ${shown(this.outlet)}`;
    for (let tries = 0; present() !== wanted && tries < 400; tries++) await new Promise(r => setTimeout(r, 5));
    await task();
    assert.equal(present(), wanted, this.journey);
    assert.equal(router!.place.peek().url.href, location.href, this.journey);
    may = true;
  }

  get journey(): string {
    return this.done.join('; ');
  }
}

// WebKit allows 100 changes of the history in ten seconds.
const programs = environment.engine === 'webkit' ? 6 : 12;
const steps = 14;

for (const way of ['Navigation API', 'history'] as const) {
  const isThere = 'navigation' in globalThis;
  const isPossible = 'URLPattern' in globalThis && environment.engine !== 'simulated' && (way === 'history' || isThere);
  it(`${programs} random journeys of ${steps} steps, with the ${way}`, async t => {
    if (!isPossible) return t.skip('the engine has no URLPattern, or no Navigation API');
    if (way === 'history' && isThere) {
      const { navigation } = globalThis as { navigation?: unknown };
      Object.defineProperty(globalThis, 'navigation', { value: undefined, configurable: true, writable: true });
      atEnd(() => void Object.assign(globalThis, { navigation }));
    }
    for (let count = 0; count < programs; count++) {
      program++;
      const outlet = await stage<HTMLElement>('<main></main>');
      isAsync = program % 2 === 1;
      may = true;
      history.pushState(null, '', `${base}/`);
      router = routes(
        outlet,
        [
          { path: '/', element: 'journey-list', title: 'Hives' },
          {
            path: '/hives/:name',
            element: 'journey-page',
            title: ({ name }) => `Hive ${name}`,
            leave: () => (isAsync ? task().then(() => may) : may),
            children: [{ path: '/notes/:noteId', element: 'journey-note' }],
          },
          { path: '/old/:name', redirect: '/hives/:name' },
          ...[0, 1].map(n => {
            const tag = `journey-late-${n}-${program}`;
            const load = async () => {
              await task();
              await task();
              if (!customElements.get(tag)) customElements.define(tag, class extends HTMLElement {});
            };
            return { path: `/late/${n}`, element: tag, title: 'Late', load };
          }),
          { path: '/yard', element: 'journey-list', title: 'Yard' },
          { path: '*', element: 'journey-note', title: 'Not here' },
        ],
        { base },
      );
      const journey = new Journey(outlet, random(count + 1), way === 'history');
      journey.done.push(`program ${count}`);
      await journey.check();
      for (let step = 0; step < steps; step++) await journey.step();
      router.stop();
      outlet.remove();
    }
  });
}
