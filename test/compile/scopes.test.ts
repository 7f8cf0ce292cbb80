/** A build has the methods of the scope that an element may use: those that it names, or all if it does more with it. */
import assert from 'node:assert/strict';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, it } from 'node:test';
import { eltrix, project } from '../support/project.ts';

/** What the code of each method calls, and that of no other. */
const marks = {
  on: 'removeEventListener',
  every: 'clearInterval',
  after: 'clearTimeout',
  frame: 'cancelAnimationFrame',
  use: 'Symbol.dispose',
  signal: 'AbortController',
} as const;
const all = Object.keys(marks);

const forms: Readonly<Record<string, readonly [code: string, methods: readonly string[]]>> = {
  'two methods': ['connected(scope) { scope.every(9, () => {}); scope.use(() => {}); }', ['every', 'use']],
  'taken apart': ["connected({ signal, 'after': later }) { later; signal; }", ['after', 'signal']],
  'in a function inside': ['connected(scope) { [1].forEach(() => scope?.frame?.(() => {})); }', ['frame']],
  'without a scope': ['connected() {}', []],
  'passed on': ['#take(given) { given.on; } connected(scope) { this.#take(scope); }', all],
  renamed: ['connected(scope) { const given = scope; given.on; }', all],
  'by a computed name': ["connected(scope) { scope['on']; }", all],
  'with the others in a rest': ['connected({ on, ...others }) { on; others; }', all],
  'as an argument': ['connected() { arguments[0].on; }', all],
  evaluated: ["connected(scope) { eval('scope').on; }", all],
  'of the parent class': ['connected(scope) { super.connected?.(scope); }', all],
};

describe('the methods of a scope', () => {
  for (const [form, [code, methods]] of Object.entries(forms))
    it(`${form}: ${methods.length === all.length ? 'all' : methods.join(', ') || 'none'}`, () => {
      const root = project({
        'src/one-bee.js': `import { contract, markup, text } from 'eltrix';
export class OneBee extends contract('one-bee', { attributes: { label: text() } }) {
  ${code}
  view() { return markup\`<p>\${() => this.label}</p>\`; }
}`,
      });
      const { status, stderr } = eltrix(root, 'build', '--no-look');
      assert.equal(status, 0, stderr);
      const dist = join(root, 'dist');
      const built = readdirSync(dist)
        .filter(name => /^(?:one-bee|shared).*\.js$/.test(name))
        .map(name => readFileSync(join(dist, name), 'utf8'))
        .join('');
      const found = Object.entries(marks).flatMap(([name, mark]) => (built.includes(mark) ? [name] : []));
      assert.deepEqual(found.sort(), [...methods].sort());
    });
});
