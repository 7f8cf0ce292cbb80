/** What applications show in place of what fails, comes late or leaves: `eltrix/views`. */
import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import { contract, data, each, flag, integer, live, markup, type Scope, settled, signal, slot, text } from 'eltrix';
import { request } from 'eltrix/behaviours';
import { entering, fromTemplate, handleErrors, leaving, promised, type ReportedError, region } from 'eltrix/views';
import { environment, respond, stage, waitFor as waits } from 'eltrix-tool/testing';

/** A busy machine may need its time. */
const waitFor = (check: () => void) => waits(check, { timeout: 8000 });

const shown = (element: Element) => [...textsOf(element.shadowRoot!)].join('|');

function* textsOf(root: Node): Generator<string> {
  const walker = document.createTreeWalker(root, NodeFilter.SHOW_TEXT);
  while (walker.nextNode()) {
    const text = (walker.currentNode as Text).data.trim();
    if (text) yield text;
  }
}

/** Collects what is reported while a function runs. */
async function reported(run: () => unknown): Promise<ReportedError[]> {
  const list: ReportedError[] = [];
  const stop = handleErrors(one => {
    list.push(one);
    return true;
  });
  try {
    await run();
    await settled();
  } finally {
    stop();
  }
  return list;
}

const level = signal(1);

class ThrowingChild extends contract('throwing-child', { attributes: { broken: flag() } }) {
  view() {
    if (this.broken) throw new Error('no view');
    return markup`<i>child</i>`;
  }
}
ThrowingChild.define();

class RegionCard extends contract('region-card', {
  attributes: { fails: text(), name: text() },
  properties: { rows: data<number[]>(() => [1, 2]) },
}) {
  view() {
    return markup`<h3>${() => this.name}</h3>${region(
      () => {
        if (this.fails === 'view') throw new Error('view');
        return markup`<p>${() => {
          if (level.get() < 0) throw new Error('live');
          return `level ${level.get()}`;
        }}</p>${each(
          () => this.rows,
          row => row,
          row => {
            if (row() < 0) throw new Error('row');
            return markup`<b>${row}</b>`;
          },
        )}<throwing-child broken="${() => this.fails === 'child'}"></throwing-child>`;
      },
      (error, retry) => markup`<button onclick=${retry}>${(error as Error).message}</button>`,
    )}<footer>end</footer>`;
  }
}
RegionCard.define();

const retry = async (card: Element) => {
  card.shadowRoot!.querySelector('button')!.click();
  await settled();
};

it('shows the fallback for an error in the view of a region, and renders again on retry', async () => {
  const list = await reported(async () => {
    const card = await stage<RegionCard>('<region-card name="Rosemary" fails="view"></region-card>');
    assert.equal(shown(card), 'Rosemary|view|end');
    await retry(card);
    assert.equal(shown(card), 'Rosemary|view|end', 'it fails again');
    card.fails = '';
    await retry(card);
    assert.equal(shown(card), 'Rosemary|level 1|1|2|end');
    card.name = 'Bramble';
    await settled();
    assert.equal(shown(card), 'Bramble|level 1|1|2|end');
  });
  assert.equal(list.length, 2);
  assert.equal(list[0]!.element?.localName, 'region-card');
});

it('shows the fallback for an error in a live expression, a row and the view of an element inside', async () => {
  const card = await stage<RegionCard>('<region-card name="Rosemary"></region-card>');
  const list = await reported(async () => {
    level.set(-1);
    await settled();
    assert.equal(shown(card), 'Rosemary|live|end');
    level.set(2);
    await settled();
    assert.equal(shown(card), 'Rosemary|level 2|1|2|end', 'what failed has another value');
    card.rows = [1, -2];
    await settled();
    assert.equal(shown(card), 'Rosemary|row|end');
    card.rows = [3];
    await settled();
    assert.equal(shown(card), 'Rosemary|level 2|3|end');
    card.rows = [-3];
    await settled();
    assert.equal(shown(card), 'Rosemary|row|end');
    // The view of the next child fails.
    card.fails = 'child';
    card.rows = [3];
    await settled();
    assert.equal(shown(card), 'Rosemary|no view|end');
    card.fails = '';
    await settled();
    assert.equal(shown(card), 'Rosemary|level 2|3|end');
  });
  assert.deepEqual(
    list.map(({ element }) => element?.localName),
    ['region-card', 'region-card', 'region-card', 'throwing-child'],
  );
  level.set(1);
});

describe('a region whose view has failed', () => {
  const bad = signal(false);
  const other = signal(0);
  const beside = signal('');
  const check = (word: string, isBad = bad.get()) => {
    if (isBad) throw new Error('bad');
    return word;
  };
  class BadParts extends contract('bad-parts', {
    attributes: { broken: flag() },
    properties: { rows: data<readonly boolean[]>(() => []) },
  }) {
    way = '';
    place = '';
    #view(): unknown {
      switch (this.way) {
        case 'text':
          return markup`<p>${() => check('fine')}</p>`;
        case 'an attribute':
          return markup`<p title=${() => check('fine')}>fine</p>`;
        case 'a part of an attribute':
          return markup`<p title="a ${() => check('fine')}">fine</p>`;
        case 'a property':
          return markup`<p ${{ title: () => check('fine') }}>fine</p>`;
        case 'a property of the element':
          return markup`<p>${() => check('fine', this.broken)}</p>`;
        case 'a condition around':
          return markup`${() => {
            const isBad = bad.get();
            return markup`<p>${() => check('fine', isBad)}</p>`;
          }}`;
        case 'the item of a row':
          return markup`${each(
            () => this.rows,
            (_, index) => index,
            row => markup`<p>${() => check('fine', row())}</p>`,
          )}`;
        case 'a row':
          return markup`${each(
            () => this.rows,
            (_, index) => index,
            row => markup`<p>${check('fine', row())}</p>`,
          )}`;
        case 'a list':
          return markup`${each(
            () => [check('fine')],
            word => word,
            word => markup`<p>${word}</p>`,
          )}`;
        case 'the view of an element inside':
          return markup`<throwing-child broken=${() => bad.get()}></throwing-child>fine`;
        default:
          return check('fine') && markup`<p>fine</p>`;
      }
    }
    view() {
      const part = () =>
        region(
          () => this.#view(),
          (_, retry) => markup`<q onclick=${retry}>bad ${() => other.get()}</q>`,
        );
      if (this.place === 'in a row')
        return markup`${each(
          [1],
          one => one,
          () => markup`<div>${part()}</div>`,
        )}`;
      if (this.place === 'beside an expression')
        return markup`<div>${() => beside.get()}${part()}${() => beside.get()}</div>`;
      if (this.place === 'in a condition') return markup`${() => other.get() >= 0 && part()}`;
      return markup`${part()}`;
    }
  }
  BadParts.define();

  class BadAnswer extends contract('bad-answer', { attributes: { place: text() } }) {
    readonly weather = request<{ sky: string }>(() => `/weather/${this.place}`);
    view() {
      return markup`${region(
        () =>
          markup`<p>${() => {
            if (this.weather.error) throw this.weather.error;
            return this.weather.value?.sky ?? 'Wait';
          }}</p>`,
        (error, again) =>
          markup`<button onclick=${() => {
            this.weather.again();
            again();
          }}>${(error as Error).name}</button>`,
      )}`;
    }
  }
  BadAnswer.define();

  it('follows a request, and sends it once for each address and each attempt', async () => {
    let isFound = false;
    const asked = respond(/\/weather\//, ({ url }: Request) =>
      isFound || url.endsWith('/here') ? { sky: 'blue' } : 404,
    );
    await reported(async () => {
      const element = await stage<BadAnswer>('<bad-answer place="nowhere"></bad-answer>');
      await waitFor(() => assert.match(shown(element), /Error/));
      element.place = 'here';
      await waitFor(() => assert.equal(shown(element), 'blue'));
      assert.deepEqual(
        asked.map(({ url }) => new URL(url).pathname),
        ['/weather/nowhere', '/weather/here'],
      );
      element.place = 'nowhere';
      await waitFor(() => assert.match(shown(element), /Error/));
      isFound = true;
      element.shadowRoot!.querySelector('button')!.click();
      await waitFor(() => assert.equal(shown(element), 'blue'));
      await new Promise(resolve => setTimeout(resolve, 50));
      assert.equal(asked.length, 4);
    });
  });

  const ways = [
    'text',
    'an attribute',
    'a part of an attribute',
    'a property',
    'a property of the element',
    'a condition around',
    'the item of a row',
    'a row',
    'a list',
    'the view of an element inside',
    'its own function',
  ];
  for (const place of ['', 'in a row', 'in a condition', 'beside an expression'])
    for (const way of ways)
      it(`shows it again when what failed has changed: ${[way, place].filter(Boolean).join(', ')}`, async () => {
        bad.set(true);
        other.set(0);
        const element = Object.assign(new BadParts(), { way, place, broken: true, rows: [false, true] });
        const repair = () => {
          bad.set(false);
          element.broken = false;
          element.rows = [false, false];
        };
        const fine = /^(?:fine|\|)+$/;
        const reports = await reported(async () => {
          await stage(element);
          assert.equal(shown(element), 'bad|0');
          // What only the fallback reads does not try again, except where the region is made again.
          other.set(1);
          await settled();
          beside.set(beside.peek() ? '' : ' ');
          await settled();
          assert.equal(shown(element), 'bad|1');
        });
        assert.equal(reports.length, place === 'in a condition' ? 2 : 1);
        repair();
        await settled();
        assert.match(shown(element), fine);
        // The same while the element is away.
        await reported(async () => {
          bad.set(true);
          element.broken = true;
          element.rows = [true];
          await settled();
        });
        // A row that stands, and an element, run their functions once.
        if (way !== 'a row' && way !== 'the view of an element inside') assert.equal(shown(element), 'bad|1');
        const parent = element.parentNode!;
        element.remove();
        repair();
        await settled();
        parent.append(element);
        await settled();
        assert.match(shown(element), fine);
      });
});

const inner = signal(0);

class NestedRegions extends contract('nested-regions', { attributes: { shows: flag() } }) {
  view() {
    return markup`${region(
      () =>
        markup`<p>outer</p>${() =>
          this.shows &&
          region(
            () =>
              markup`${() => {
                if (inner.get() === 1) throw new Error('inside');
                return 'inner';
              }}`,
            () => {
              if (inner.peek() === 2) throw new Error('fallback');
              return 'inner fallback';
            },
          )}`,
      () => 'outer fallback',
    )}`;
  }
}
NestedRegions.define();

it('uses the nearest region, and the next one if a fallback throws', async () => {
  const element = await stage<NestedRegions>('<nested-regions></nested-regions>');
  await reported(async () => {
    element.shows = true;
    await settled();
    assert.equal(shown(element), 'outer|inner');
    inner.set(1);
    await settled();
    assert.equal(shown(element), 'outer|inner fallback');
    element.shows = false;
    await settled();
    assert.equal(shown(element), 'outer', 'a region that failed can go');
    inner.set(0);
    element.shows = true;
    await settled();
    assert.equal(shown(element), 'outer|inner');
    element.remove();
    inner.set(1);
    await settled();
    document.body.append(element);
    await settled();
    assert.equal(shown(element), 'outer|inner fallback', 'after it was disconnected');
    element.remove();
  });
  inner.set(0);
});

it('renders a failed region once, also if it makes a promise beside what fails', async () => {
  const fails = signal(true);
  const address = signal('/a');
  let runs = 0;
  class RegionBeside extends contract('region-beside', {}) {
    view() {
      return markup`${region(
        () => {
          if (++runs > 9) throw new Error('again and again');
          const loaded = promised(Promise.resolve('loaded'), { fulfilled: value => value });
          // The root of a tree that was taken out is a link, which has a \`host\`.
          return markup`<i>${loaded}</i>${loaded}${() =>
            address.get() === '/a' &&
            markup`<a href=${() => address.get()}>${() => {
              if (fails.get()) throw new Error('link');
              return 'link';
            }}</a>`}${loaded}`;
        },
        () => 'fallback',
      )}`;
    }
  }
  RegionBeside.define();
  await reported(async () => {
    const element = await stage<RegionBeside>('<region-beside></region-beside>');
    await waitFor(() => assert.equal(shown(element), 'fallback'));
    await new Promise(resolve => setTimeout(resolve, 5));
    assert.equal(runs, 1);
    fails.set(false);
    await waitFor(() => assert.equal(shown(element), 'loaded|loaded|link|loaded'));
    fails.set(true);
    address.set('/b');
    await waitFor(() => assert.equal(shown(element), 'loaded|loaded|loaded'));
  });
});

it('shows a promise that has settled at once, also one whose pending view fails in a region', async () => {
  const ready = Promise.resolve('ready');
  let runs = 0;
  class RegionPending extends contract('region-pending', {}) {
    view() {
      return markup`${region(
        () => {
          if (++runs > 9) throw new Error('again and again');
          const pending = (last: string | undefined) => last!.length;
          return promised(ready, { pending, fulfilled: value => value });
        },
        () => 'fallback',
      )}`;
    }
  }
  RegionPending.define();
  await reported(async () => {
    const element = await stage<RegionPending>('<region-pending></region-pending>');
    await waitFor(() => assert.equal(shown(element), 'ready'));
    assert.equal(runs, 2);
  });
});

it('finds the region among the content of an element without a root', async () => {
  class BadLevel extends contract('bad-level', {}) {
    view() {
      return markup`${() => {
        throw new Error('level');
      }}`;
    }
  }
  BadLevel.define();
  class LightAround extends contract('light-around', { shadow: 'none', slots: { '': slot('Anything.') } }) {
    view() {
      return markup`<slot></slot>`;
    }
  }
  LightAround.define();
  class RegionInLight extends contract('region-in-light', {}) {
    view() {
      return markup`${region(
        () =>
          markup`<light-around>${region(
            () => markup`<bad-level></bad-level>`,
            () => 'inner',
          )}</light-around>`,
        () => 'outer',
      )}`;
    }
  }
  RegionInLight.define();
  await reported(async () => {
    const element = await stage('<region-in-light></region-in-light>');
    assert.equal(shown(element), 'inner');
  });
});

class HookFails extends contract('hook-fails', { attributes: { size: integer() } }) {
  connected() {
    throw new Error('connected');
  }

  view() {
    return markup`<p class="${() => {
      if (this.size > 1) throw new Error('size');
      return 'ok';
    }}">x</p>`;
  }
}
HookFails.define();

it('reports errors of hooks and expressions to handleErrors with their element', async () => {
  const list = await reported(async () => {
    const element = await stage<HookFails>('<hook-fails></hook-fails>');
    element.size = 2;
  });
  assert.deepEqual(
    list.map(({ error }) => ((error as Error).cause as Error | undefined)?.message ?? (error as Error).message),
    ['connected', 'size'],
  );
  assert.ok(list.every(({ element }) => element?.localName === 'hook-fails'));
});

class EffectFails extends contract('effect-fails', { form: true, attributes: { size: integer() } }) {
  view() {
    return markup`<p>here</p>`;
  }
  connected(scope: Scope) {
    scope.effect(() => {
      if (this.size > 1) throw new Error('effect');
    });
  }
  formValue() {
    if (this.size > 1) throw new Error('value');
    return String(this.size);
  }
  validate() {
    if (this.size > 1) throw new Error('validity');
    return null;
  }
}
EffectFails.define();

it('reports errors of effects and of form values to handleErrors with their element', async () => {
  const list = await reported(async () => {
    const element = await stage<EffectFails>('<effect-fails name="size"></effect-fails>');
    element.size = 2;
  });
  assert.deepEqual(list.map(({ error }) => (error as Error).message).sort(), ['effect', 'validity', 'value']);
  assert.ok(
    list.every(({ element }) => element?.localName === 'effect-fails'),
    'each with its element',
  );
});

/** A build gives it no graph. */
class StaticFails extends contract('static-fails', { attributes: { size: integer() } }) {
  view() {
    return markup`<p>${() => 'x'.repeat(2 - this.size)}</p>`;
  }
}
StaticFails.define();

it('reports errors of an element that shows its own attributes only', async () => {
  const host = await stage<HTMLElement>('<static-fails></static-fails>');
  const list = await reported(() => host.setAttribute('size', '3'));
  assert.deepEqual(
    list.map(({ error, element }) => [((error as Error).cause as Error).name, element]),
    [['RangeError', host]],
  );
});

// Promises.

type Asked = { resolve(value: string): void; reject(error: Error): void };
const asked = new Map<string, Asked>();
const ask = (key: string) =>
  new Promise<string>((resolve, reject) => {
    asked.set(key, { resolve, reject });
  });

class PromiseCard extends contract('promise-card', {
  attributes: { hive: text() },
}) {
  view() {
    return markup`${promised(() => ask(this.hive), {
      pending: last => `pending after ${last}`,
      fulfilled: value => markup`<b>${value}</b>`,
      rejected: error => (error as Error).message,
    })}`;
  }
}
PromiseCard.define();

const turn = async () => {
  await new Promise(resolve => setTimeout(resolve));
  await settled();
};

it('shows a promise as pending, fulfilled and rejected, and drops late results', async () => {
  const card = await stage<PromiseCard>('<promise-card hive="a"></promise-card>');
  assert.equal(shown(card), 'pending after undefined');
  asked.get('a')!.resolve('A');
  await turn();
  assert.equal(shown(card), 'A');
  card.hive = 'b';
  await settled();
  assert.equal(shown(card), 'pending after A');
  card.hive = 'c';
  await settled();
  asked.get('c')!.resolve('C');
  await turn();
  asked.get('b')!.resolve('B');
  await turn();
  assert.equal(shown(card), 'C');
  card.hive = 'd';
  await settled();
  asked.get('d')!.reject(new Error('no D'));
  await turn();
  assert.equal(shown(card), 'no D');
  card.hive = 'e';
  await settled();
  card.remove();
  asked.get('e')!.resolve('E');
  await turn();
  document.body.append(card);
  await turn();
  assert.equal(shown(card), 'E', 'an answer that came while it was disconnected');
  card.remove();
});

class PromiseRegion extends contract('promise-region', {}) {
  view() {
    return markup`${region(
      () => markup`<p>${promised(ask('region'), { fulfilled: value => value })}</p>`,
      error => `failed: ${(error as Error).message}`,
    )}`;
  }
}
PromiseRegion.define();

it('throws a rejection without a view at its expression', async () => {
  const element = await stage<PromiseRegion>('<promise-region></promise-region>');
  assert.equal(shown(element), '');
  const list = await reported(async () => {
    asked.get('region')!.reject(new Error('gone'));
    await turn();
    assert.equal(shown(element), 'failed: gone');
  });
  assert.equal(list.length, 1);
});

// Leaving and entering.

const log: string[] = [];
const ends = new Map<string, () => void>();
const leave = leaving(element => {
  log.push(`leaves ${element.id}`);
  return new Promise<void>(resolve => ends.set(element.id, resolve));
});
const enter = entering(element => void log.push(`enters ${element.id}`));

class LeavingList extends contract('leaving-list', {
  attributes: { open: flag() },
  properties: { rows: data<string[]>(() => ['a', 'b', 'c']) },
}) {
  view() {
    return markup`<ul>${each(
      () => this.rows,
      row => row,
      row => markup`<li id=${row} ${leave} ${enter}>${row}</li>`,
    )}</ul>${() => this.open && markup`<p id="open" ${leave} ${enter}>open</p>`}`;
  }
}
LeavingList.define();

const reduced = globalThis.matchMedia?.('(prefers-reduced-motion: reduce)').matches;

it('keeps leaving rows and conditional markup in place, inert', async t => {
  if (reduced || environment.engine === 'simulated') return t.skip();
  const list = await stage<LeavingList>('<leaving-list></leaving-list>');
  const ids = () => [...list.shadowRoot!.querySelectorAll('li, p')].map(({ id }) => id).join(' ');
  log.length = 0;
  list.rows = ['a', 'c'];
  await settled();
  assert.equal(ids(), 'a b c');
  assert.deepEqual(log, ['leaves b'], 'the first view does not enter');
  assert.equal(list.shadowRoot!.querySelector<HTMLElement>('#b')!.inert, true);
  list.rows = ['c', 'd', 'a'];
  await turn();
  assert.equal(ids().replace(/ ?b/, ''), 'c d a');
  assert.deepEqual(log, ['leaves b', 'enters d']);
  ends.get('b')!();
  await turn();
  assert.equal(ids(), 'c d a');
  list.open = true;
  await turn();
  list.open = false;
  await settled();
  assert.equal(ids(), 'c d a open');
  list.open = true;
  await turn();
  assert.equal(ids(), 'c d a open open', 'it comes back before it has left');
  ends.get('open')!();
  await turn();
  assert.equal(ids(), 'c d a open');
  list.rows = [];
  await settled();
  assert.equal(ids(), 'c d a open');
  list.rows = ['e'];
  await settled();
  for (const id of ['c', 'd', 'a']) ends.get(id)!();
  await turn();
  assert.equal(ids(), 'e open');
});

class LeavingRegion extends contract('leaving-region', {}) {
  readonly rows = signal(['a', 'b']);
  readonly fails = signal(false);

  view() {
    const text = (row: string) => {
      if (this.fails.get()) throw new Error('failed');
      return row;
    };
    return markup`${region(
      () =>
        markup`<ul>${each(
          () => this.rows.get(),
          row => row,
          row => markup`<li id=${row} ${leave}>${() => text(row())}</li>`,
        )}</ul>`,
      () => 'fallback',
    )}`;
  }
}
LeavingRegion.define();

it('a row that fails and leaves in one change leaves no fallback behind', async t => {
  if (reduced || environment.engine === 'simulated') return t.skip();
  t.after(handleErrors(() => true));
  const list = await stage<LeavingRegion>('<leaving-region></leaving-region>');
  list.fails.set(true);
  list.rows.set([]);
  await settled();
  assert.equal(list.shadowRoot!.innerHTML.replace(/<!--.*?-->/g, ''), '<ul></ul>');
  list.rows.set(['c']);
  await settled();
  assert.equal(list.shadowRoot!.textContent, 'fallback');
});

class FadingList extends contract('fading-list', { properties: { rows: live<string[]>(() => ['a', 'b']) } }) {
  view() {
    return markup`<ul>${each(
      () => this.rows,
      row => row,
      row => markup`<li ${leaving([{ opacity: 1 }, { opacity: 0 }], 60_000)}>${row}</li>`,
    )}</ul>`;
  }
}
FadingList.define();

it('waits for keyframe animations, also cancelled ones', async t => {
  if (reduced || environment.engine === 'simulated') return t.skip();
  const list = await stage<FadingList>('<fading-list></fading-list>');
  const count = () => list.shadowRoot!.querySelectorAll('li').length;
  for (const end of ['finish', 'cancel'] as const) {
    const before = count();
    list.rows.splice(0, 1);
    await settled();
    assert.equal(count(), before);
    for (const animation of list.shadowRoot!.querySelector('li')!.getAnimations()) animation[end]();
    await waitFor(() => assert.equal(count(), before - 1));
  }
});

// Templates of the page.

class GivenRows extends contract('given-rows', { properties: { hives: live<object[]>(() => []) } }) {
  view() {
    const template = this.querySelector('template')!;
    return markup`${each(
      () => this.hives,
      (_hive, index) => index,
      hive => fromTemplate(template, hive),
    )}`;
  }
}
GivenRows.define();

it('fills a template of the page by microdata, safely, with updates', async () => {
  const list = await stage<GivenRows>(`<given-rows><template>
    <li><a itemprop="url"></a><b itemprop="name">?</b><time itemprop="opened"></time>
    <i itemprop="frames" itemscope><u itemprop="honey"></u></i></li>
  </template></given-rows>`);
  list.hives = [
    {
      name: '<b>Rosemary</b>',
      url: '/rosemary',
      opened: new Date(Date.UTC(2026, 4, 3)),
      frames: [{ honey: 2 }, { honey: 3 }],
    },
    { name: 'Old Tin' },
  ];
  await settled();
  const [first, second] = list.shadowRoot!.querySelectorAll('li');
  assert.equal(first!.querySelector('b')!.textContent, '<b>Rosemary</b>');
  assert.equal(first!.querySelector('a')!.getAttribute('href'), '/rosemary');
  assert.equal(first!.querySelector('a')!.textContent, '/rosemary');
  assert.equal(first!.querySelector('time')!.dateTime, '2026-05-03T00:00:00.000Z');
  assert.deepEqual(
    [...first!.querySelectorAll('i')].map(one => one.textContent),
    ['2', '3'],
  );
  assert.equal(second!.querySelector('b')!.textContent, 'Old Tin');
  assert.equal(second!.querySelector('a')!.hasAttribute('href'), false);
  assert.equal(second!.querySelectorAll('i').length, 0);
  const hive = list.hives[1] as { name: string; url?: string };
  hive.name = 'Bramble';
  await settled();
  assert.equal(second!.querySelector('b')!.textContent, 'Bramble');
  const errors = await reported(async () => {
    hive.url = 'javascript:alert(1)';
  });
  assert.equal(second!.querySelector('a')!.hasAttribute('href'), false);
  assert.match(String(errors[0]!.error), /unsafe-value/);
});

it('rejects anything but a template', () => {
  assert.throws(() => fromTemplate(document.createElement('div') as never, {}), /item-template/);
});
