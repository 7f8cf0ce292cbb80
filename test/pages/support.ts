import { settled } from 'eltrix';
import { environment, leaves } from 'eltrix/testing';

/** Whether the tests run on elements and markup that were compiled first. */
export const { compiled } = environment;

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
