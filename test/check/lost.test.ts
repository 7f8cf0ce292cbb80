/** A browser that loses what it was asked for costs a result, not the run. */
import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import { type Engine, engines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { project } from '../support/project.ts';

// The sources of the tool load those of the library, whose builds set this.
Object.assign(globalThis, { __DEV__: true, __RENDERED__: true });
const { checkElements } = await import('../../packages/eltrix-tool/src/check/elements/check.ts');
const { discover } = await import('../../packages/eltrix-tool/src/project/discover.ts');

const { firefox } = engines;

/** Firefox, but no page of it comes to the front, and its end fails. */
const shaky: Engine = {
  ...firefox,
  async start(options) {
    const session = await firefox.start(options);
    return {
      name: 'firefox',
      takesTurns: false,
      oneInFront: true,
      version: session.version,
      open: async (url, how) => ({ ...(await session.open(url, how)), front: () => Promise.reject(new Error('gone')) }),
      async close() {
        await session.close();
        throw new Error('The connection was lost.');
      },
    };
  },
};

/** An engine that loses its first page. */
function losing(engine: Engine): Engine & { readonly starts: () => number } {
  let [starts, pages] = [0, 0];
  return {
    ...engine,
    starts: () => starts,
    async start(options) {
      const session = await engine.start(options);
      starts++;
      return {
        ...session,
        name: engine.name,
        takesTurns: session.takesTurns,
        version: session.version,
        close: () => session.close(),
        async open(url, how) {
          const page = await session.open(url, how);
          return pages++ === 0 ? { ...page, evaluate: () => Promise.reject(new Error('The page is gone.')) } : page;
        },
      };
    },
  };
}

describe('a browser that fails at the end', { skip: !firefox.find() && 'Firefox is not here' }, () => {
  it('costs no result', async () => {
    const root = project({
      'src/bee-card.js':
        "import { contract, markup } from 'eltrix';\nexport class BeeCard extends contract('bee-card', {}) { view() { return markup`<p tabindex=\"0\">One</p>`; } }\n",
    });
    const { elements } = await checkElements(root, await discover(root, 'src'), [shaky], {
      target: 'es2022',
      without: [],
      pictures: false,
      timeout: 60_000,
    });
    assert.ok(elements[0]!.engines['firefox']!.length > 20);
  });
});

describe('a page that is lost', { skip: !engines.chromium.find() && 'Chromium is not here' }, () => {
  it('is checked again in a restarted engine', async () => {
    const root = project({
      'src/bee-card.js':
        "import { contract, markup } from 'eltrix';\nexport class BeeCard extends contract('bee-card', {}) { view() { return markup`<p tabindex=\"0\">One</p>`; } }\n",
    });
    const engine = losing(engines.chromium);
    const { elements } = await checkElements(root, await discover(root, 'src'), [engine], {
      target: 'es2022',
      without: [],
      pictures: false,
      timeout: 60_000,
    });
    const results = elements[0]!.engines['chromium']!;
    assert.deepEqual(
      results.filter(({ outcome }) => outcome === 'fails'),
      [],
    );
    assert.ok(results.length > 20);
    assert.equal(engine.starts(), 2);
  });
});
