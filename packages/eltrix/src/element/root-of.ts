import { coreKey, type HasCore } from './core-key.ts';

/** Where an element shows its view: its shadow root, also if that is closed, or itself. */
export function rootOf(host: Element): ParentNode {
  return (host as Partial<HasCore>)[coreKey]?.root ?? host.shadowRoot ?? host;
}
