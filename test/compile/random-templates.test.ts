/** Random templates show the same compiled and as written, in a real engine, and follow the same changes. */
import assert from 'node:assert/strict';
import { it } from 'node:test';
import { foundEngines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { pageScript, withPages } from '../support/bundled-page.ts';
import { random, seed } from '../support/random.ts';

const tags = ['p', 'div', 'ul', 'b', 'section', 'svg', 'table', 'select', 'template', 'x-plain', 'pre', 'span'];
const attributes = ['title', 'class', 'style', 'data-x', 'hidden', 'href', 'aria-label', 'xlink:href', 'STYLE'];
const texts = ['a', ' ', '\n    ', ' b  c ', '&amp;', '&nbsp;', '&lt;x', '<!-- note -->', 'é', '1 < 2'];

/** The source of a template whose expressions read `s0` to `s4` in all the ways there are. */
function template(next: (below: number) => number, depth = 0): string {
  const expression = () => {
    const n = next(5);
    const ways = [
      `\${() => s${n}.get()}`,
      `\${s${n}.peek()}`,
      `\${() => String(s${n}.get())}`,
      `\${() => \`<\${s${n}.get()}>\`}`,
      `\${() => s${n}.get() % 2 === 0 && m\`<i>\${() => s${n}.get()}</i>\`}`,
      `\${() => [s${n}.get(), m\`<u>\${s${n}.peek()}</u>\`, null]}`,
      `\${each(() => list(s${n}.get()), x => x, (x, i) => m\`<li class=\${() => i() % 2 ? 'odd' : ''}>\${x}</li>\`)}`,
      `\${() => s${n}.get() > 2}`,
    ];
    return ways[next(ways.length)]!;
  };
  const value = () => {
    const n = next(5);
    const ways = [
      `"\${() => s${n}.get()}"`,
      `\${() => s${n}.get() % 2 === 1}`,
      `"x \${() => s${n}.get()} y \${s${n}.peek()}"`,
      `'&amp;\${s${n}.peek()}'`,
      '"plain text"',
      'bare',
      `\${() => null}`,
    ];
    return ways[next(ways.length)]!;
  };
  let source = '';
  for (let i = next(4); i >= 0; i--) {
    switch (next(4)) {
      case 0:
        source += texts[next(texts.length)];
        break;
      case 1:
        source += expression();
        break;
      default: {
        if (depth > 3) break;
        const tag = tags[next(tags.length)]!;
        const given = Array.from({ length: next(3) }, () => attributes[next(attributes.length)]!);
        const list = [...new Set(given.map(name => name.toLowerCase()))].map(name => {
          const written = given.find(other => other.toLowerCase() === name)!;
          return ` ${written}=${/^style$/i.test(name) ? `"color: \${() => 'r' + 'ed'}"` : value()}`;
        });
        const listener = next(6) === 0 ? ' onclick=${() => {}}' : '';
        const record = next(6) === 0 ? ` \${{ id: () => 'n' + s${next(5)}.get() }}` : '';
        source += `<${tag}${list.join('')}${listener}${record}>${tag === 'select' ? '<option>x</option>' : template(next, depth + 1)}</${tag}>`;
      }
    }
  }
  return source;
}

const count = 600;

function moduleOf(seed: number, compiled: boolean): string {
  const next = random(seed);
  const m = compiled ? 'markup' : 'asWritten';
  const makers = Array.from({ length: count }, () => {
    const source = template(next).replaceAll('m`', `${m}\``);
    return `(s0, s1, s2, s3, s4) => ${m}\`${source}\``;
  });
  return `
    import { each, markup, contract, signal, settled } from 'eltrix';
    ${compiled ? '' : 'const asWritten = markup;'}
    const list = n => Array.from({ length: n % 4 }, (_, i) => i + n % 3);
    const makers = [${makers.join(',\n')}];
    class Host extends contract('${compiled ? 'compiled' : 'written'}-host', {}) { view() { return this.make(); } }
    Host.define();
    const clean = text => text.replace(/<!--[^]*?-->/g, '').replace(/[ \\t\\n\\f\\r]+/g, ' ');
    const shown = node => [...node.childNodes].map(child => child.nodeType === 3 ? child.data : child.nodeType === 1
      ? '<' + child.namespaceURI + ' ' + child.localName + [...child.attributes].map(a => ' ' + a.name + '=' + a.value).sort().join('') + '>' + shown(child.content ?? child) + '</>' : '').join('');
    export async function run() {
      const seen = [];
      for (const make of makers) {
        const signals = [0, 1, 2, 3, 4].map(n => signal(n));
        const host = document.createElement('${compiled ? 'compiled' : 'written'}-host');
        host.make = () => make(...signals);
        document.body.append(host);
        const steps = [clean(shown(host.shadowRoot))];
        for (let step = 0; step < 3; step++) {
          signals.forEach((s, n) => s.set((s.peek() * 3 + step + n) % 7));
          await settled();
          steps.push(clean(shown(host.shadowRoot)));
        }
        host.remove();
        seen.push(steps.join('|'));
      }
      return seen;
    }`;
}

it(`${count} random templates show the same compiled and as written`, async t => {
  const [engine] = foundEngines();
  if (!engine) return t.skip('No engine is installed.');
  t.diagnostic(`ELTRIX_SEED=${seed}`);
  let compiledTemplates = 0;
  const code = await pageScript(
    {
      written: moduleOf(seed, false),
      compiled: moduleOf(seed, true),
      page: `import { run as a } from 'written'; import { run as b } from 'compiled';
        globalThis.compared = (async () => { const [x, y] = [await a(), await b()]; return { count: x.length, different: x.flatMap((text, i) => text === y[i] ? [] : [[i, text, y[i]]]) }; })();`,
    },
    { onUncompiled: ({ reason }) => t.diagnostic(reason) },
    [
      {
        name: 'count',
        transform(code, id) {
          if (/[/\\]page-\w+[/\\]compiled\.js$/.test(id)) compiledTemplates = code.split('.template(').length - 1;
        },
      },
    ],
  );
  assert.ok(compiledTemplates > count, `only ${compiledTemplates} templates were compiled`);
  const compared = await withPages(engine, async open =>
    (await open(code)).evaluate<{ count: number; different: [number, string, string][] }>('globalThis.compared'),
  );
  assert.equal(compared.count, count);
  const next = random(seed);
  const sources = Array.from({ length: count }, () => template(next));
  assert.deepEqual(
    compared.different.slice(0, 3).map(([i, written, compiled]) => ({ source: sources[i], written, compiled })),
    [],
  );
});
