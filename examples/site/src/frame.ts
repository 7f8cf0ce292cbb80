/** Runs an example: in a frame with an opaque origin, so what it does concerns nothing else. */
import { transform } from 'sucrase';
import type { Control, FromFrame, FromPage } from './messages.ts';

interface Declared {
  readonly members: readonly {
    readonly attribute?: string;
    readonly kind?: { readonly kind: string; readonly details?: { readonly values?: readonly string[] } };
  }[];
  readonly tag: string;
  readonly declaration?: { readonly events?: object };
}

const contractKey = Symbol.for('eltrix.contract.2');
const post = (message: FromFrame) => parent.postMessage(message, '*');
let shown: Element | undefined;
/** The module that is running, for places in errors. */
let address = '';

addEventListener('message', ({ data }: MessageEvent<FromPage>) => {
  if (data.type === 'run') void run(data);
  else if (shown) {
    if (data.text === null) shown.removeAttribute(data.attribute);
    else shown.setAttribute(data.attribute, data.text);
    requestAnimationFrame(report);
  }
});
addEventListener('error', event => fail(event.error ?? event.message, event.lineno));
addEventListener('unhandledrejection', event => fail(event.reason));

const blob = (text: string) => URL.createObjectURL(new Blob([text], { type: 'text/javascript' }));

async function run({ library, code, html }: FromPage & { type: 'run' }): Promise<void> {
  try {
    // Types go, and imports become calls; lines stay where they are.
    const { code: plain } = transform(code, {
      transforms: ['typescript', 'imports'],
      disableESTransforms: true,
      preserveDynamicImport: true,
    });
    const eltrix = (await import(/* @vite-ignore */ blob(library))) as object;
    const load = (name: string) => {
      if (/^eltrix(?:\/|$)/.test(name)) return eltrix;
      throw new Error(`Examples import "eltrix" only, not "${name}".`);
    };
    address = blob(`export default (require, exports) => {${plain}\n}`);
    const { default: start } = (await import(/* @vite-ignore */ address)) as {
      default: (load: (name: string) => object, exports: object) => void;
    };
    const exports = {};
    start(load, exports);
    const classes = Object.values(exports).filter(isElement);
    for (const Class of classes) if (!customElements.get(Class[contractKey].tag)) Class.define();
    document.body.innerHTML = html;
    const known = new Map(classes.map(Class => [Class[contractKey].tag, Class[contractKey]]));
    shown = [...document.body.querySelectorAll('*')].find(({ localName }) => known.has(localName));
    const contract = shown && known.get(shown.localName);
    for (const name of Object.keys(contract?.declaration?.events ?? {}))
      addEventListener(name, event => {
        post({ type: 'event', name, detail: JSON.stringify((event as CustomEvent).detail) ?? '' });
        requestAnimationFrame(report);
      });
    controls = () => (contract ? controlsOf(contract) : []);
    requestAnimationFrame(() => requestAnimationFrame(report));
    // What follows sizes, requests or timers comes later.
    new ResizeObserver(() => requestAnimationFrame(report)).observe(document.body);
  } catch (error) {
    fail(error);
  }
}

type ElementClass = CustomElementConstructor & { define(): void; readonly [contractKey]: Declared };

function isElement(value: unknown): value is ElementClass {
  return typeof value === 'function' && contractKey in value;
}

let controls: () => Control[] = () => [];

function controlsOf({ members }: Declared): Control[] {
  return members.flatMap(({ attribute, kind }) =>
    attribute === undefined || kind === undefined
      ? []
      : [{ attribute, kind: kind.kind, values: kind.details?.values ?? [], text: shown!.getAttribute(attribute) }],
  );
}

function report(): void {
  const html = shown?.outerHTML ?? document.body.innerHTML;
  post({ type: 'shown', html, controls: controls(), height: document.body.getBoundingClientRect().bottom + 12 });
}

/** With the line of the example, where it is known. */
function fail(error: unknown, line?: number): void {
  const { message = String(error), stack = '' } = (error ?? {}) as Partial<Error>;
  const [, own] = (address && new RegExp(`${address}:(\\d+)`).exec(stack)) || [];
  const [, parsed] = /\((\d+):\d+\)$/.exec(message) ?? [];
  post({ type: 'error', message, line: Number(own ?? parsed ?? line) || undefined });
}

post({ type: 'ready' });
