/** The simulated DOM, for machines without a browser: copies jsdom's window to Node's globals. */
import { createRequire } from 'node:module';
import { pathToFileURL } from 'node:url';
import { axeFile } from '../project/library.ts';
import { needPackage } from '../project/optional-package.ts';

/** Node's globals that stay, although a window has them too. */
const kept = new Set(
  'globalThis global process Buffer setTimeout clearTimeout setInterval clearInterval setImmediate clearImmediate queueMicrotask structuredClone performance fetch console URL URLSearchParams TextEncoder TextDecoder AbortController AbortSignal Blob File FormData undefined NaN Infinity eval'.split(
    ' ',
  ),
);
/** Globals that must come from the window, whose nodes and events use them. */
const taken = [
  'AbortController',
  'AbortSignal',
  'FormData',
  'File',
  'Blob',
  'Event',
  'EventTarget',
  'CustomEvent',
  'MessageEvent',
];

/** @throws ToolError if jsdom is not installed. */
export function installSimulatedDom(): { readonly version: string } {
  needPackage('jsdom', 'The simulated DOM');
  const { JSDOM } = createRequire(import.meta.url)('jsdom') as typeof import('jsdom');
  const dom = new JSDOM('<!doctype html><html lang="en"><head><title>Tests</title></head><body></body></html>', {
    url: 'http://localhost/',
    pretendToBeVisual: true,
  });
  const window = dom.window as unknown as Record<string, unknown>;
  const put = (name: string) => {
    const descriptor = Object.getOwnPropertyDescriptor(window, name);
    const value = window[name];
    Object.defineProperty(globalThis, name, {
      configurable: true,
      enumerable: descriptor?.enumerable ?? true,
      writable: true,
      value: typeof value === 'function' && !/^[A-Z]/.test(name) ? value.bind(window) : value,
    });
  };
  for (let o: object | null = window; o && o !== Object.prototype; o = Object.getPrototypeOf(o) as object | null)
    for (const name of Object.getOwnPropertyNames(o))
      if (!kept.has(name) && (!(name in globalThis) || taken.includes(name))) put(name);
  for (const name of taken) if (name in window) put(name);
  Object.assign(globalThis, { window: globalThis, self: globalThis });
  for (const name of ['addEventListener', 'removeEventListener', 'dispatchEvent'])
    Object.defineProperty(globalThis, name, {
      configurable: true,
      writable: true,
      value: (window[name] as () => void).bind(window),
    });
  // jsdom has no layout, and does not report uncaught errors like a browser.
  const { ErrorEvent } = dom.window;
  Object.assign(globalThis, {
    reportError(error: unknown) {
      const message = error instanceof Error ? error.message : String(error);
      dom.window.dispatchEvent(new ErrorEvent('error', { error, message, cancelable: true }));
    },
  });
  addStates(dom.window.ElementInternals.prototype);
  explainForms(dom.window.ElementInternals.prototype);
  const { version } = createRequire(import.meta.url)('jsdom/package.json') as { version: string };
  return { version: `jsdom ${version}` };
}

/** jsdom has no custom states: they are kept in a set, although no selector matches them. */
function addStates(internals: object): void {
  if ('states' in internals) return;
  const kept = new WeakMap<object, Set<string>>();
  Object.defineProperty(internals, 'states', {
    get(this: object) {
      if (!kept.has(this)) kept.set(this, new Set());
      return kept.get(this);
    },
    configurable: true,
    enumerable: true,
  });
}

/** jsdom has no form-associated elements (HTML §4.13.7.3). */
function explainForms(internals: object): void {
  for (const name of ['setFormValue', 'setValidity', 'checkValidity', 'reportValidity'])
    if (!(name in internals))
      Object.defineProperty(internals, name, {
        value() {
          throw new Error(
            `(simulated-missing): the simulated DOM (jsdom) has no elements that are part of forms: ElementInternals.${name}() is missing. Run this test in an engine: npx eltrix test --in chromium.`,
          );
        },
        configurable: true,
        writable: true,
      });
}

let axe: Promise<unknown> | undefined;

/** axe-core, loaded after the window exists. */
export function loadAxe(): Promise<unknown> {
  return (axe ??= import(pathToFileURL(axeFile()).href).then(module => (module as { default: unknown }).default));
}
