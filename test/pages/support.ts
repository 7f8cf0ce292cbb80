import assert from 'node:assert/strict';
import { contract, type Markup, settled } from 'eltrix';
import { environment, leaves } from 'eltrix-tool/testing';

/** Whether the tests run on elements and markup that were compiled first, and whether as they are shipped. */
export const { compiled, production } = environment;
/** For tests of what is told while developing only. */
export const whileDeveloping = { skip: production && 'it is told while developing only' };

// What these tests put on their page is looked at in later steps, and goes with the page.
leaves('nodes');

interface TrustedTypes {
  createPolicy(name: string, rules: { createHTML(html: string): string }): { createHTML(html: string): string };
}

/** The pages enforce Trusted Types; the tests have a policy of their own for the HTML that they write. */
const policy = (globalThis as { trustedTypes?: TrustedTypes }).trustedTypes?.createPolicy('eltrix-test', {
  createHTML: html => html,
});
export const html = (text: string): string => policy?.createHTML(text) ?? text;

/** Puts HTML on the page and returns its first element. Elements in it are upgraded as they are imported. */
export function put<E extends Element>(text: string): E {
  const host = document.createElement('div');
  host.innerHTML = html(text);
  document.body.append(host);
  return host.firstElementChild as E;
}

export const inside = <E extends Element = HTMLElement>(element: Element, selector: string): E =>
  element.shadowRoot!.querySelector<E>(selector)!;

/** What is reported as uncaught while a function runs and everything settles, and what is warned of. */
export async function heard(fn: () => unknown): Promise<{ errors: unknown[]; warnings: string[] }> {
  const errors: unknown[] = [];
  const warnings: string[] = [];
  const listen = (event: ErrorEvent) => {
    errors.push(event.error ?? event.message);
    event.preventDefault();
    event.stopImmediatePropagation();
  };
  const { warn } = console;
  console.warn = text => void warnings.push(String(text));
  window.addEventListener('error', listen);
  try {
    await fn();
    await settled();
    await new Promise(resolve => setTimeout(resolve, 5));
  } finally {
    window.removeEventListener('error', listen);
    console.warn = warn;
  }
  return { errors, warnings };
}

export const messages = (errors: readonly unknown[]): string[] => errors.map(error => (error as Error).message);

/** Compares what is told: a message while developing, its code alone in what is shipped. */
export function tells(seen: string | undefined, expected: string | RegExp): void {
  const [, code] = /\(([\w-]+)\\?\)/.exec(expected instanceof RegExp ? expected.source : expected)!;
  if (production) assert.equal(seen?.split(':')[0], code);
  else if (typeof expected === 'string') assert.equal(seen, expected);
  else assert.match(seen!, expected);
}

/** Compares warnings, which nothing that is shipped has. */
export function warns(seen: readonly string[], expected: readonly (string | RegExp)[]): void {
  assert.equal(seen.length, production ? 0 : expected.length, seen.join('\n'));
  for (const [i, text] of seen.entries()) tells(text, expected[i]!);
}

let made = 0;

/** Places markup in an element of its own and returns the root. */
export function place(view: (this: HTMLElement) => Markup): ShadowRoot {
  const tag = `markup-${++made}` as const;
  class Place extends contract(tag as 'markup-x', {}) {
    view() {
      return view.call(this);
    }
  }
  Place.define();
  const element = new Place();
  document.body.append(element);
  return element.shadowRoot!;
}
