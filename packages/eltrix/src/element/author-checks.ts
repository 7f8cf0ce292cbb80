/** Development: reports mistakes of authors that the platform does not explain. */
import { report } from '../signals/report.ts';
import { mistake } from './messages.ts';

const callbacks = ['connectedCallback', 'disconnectedCallback', 'adoptedCallback', 'attributeChangedCallback'] as const;
const hookFor: Record<string, string> = {
  connectedCallback: 'connected(scope)',
  disconnectedCallback: 'disconnected()',
  adoptedCallback: 'adopted(from, to)',
  attributeChangedCallback: 'attributeChanged(name, before, after)',
};

type Callback = (this: HTMLElement, ...args: unknown[]) => unknown;

/** The library's callbacks that were called since an author's override was entered. */
let reached: Set<string> | undefined;

/** Notes that the library's callback was called. */
export function noteReached(name: string): void {
  reached?.add(name);
}

/** Wraps callbacks that a class overrides: warns if one does not call `super`. */
export function watchOverrides(Class: CustomElementConstructor, base: object): void {
  for (const name of callbacks) {
    for (
      let p = Class.prototype as Record<string, Callback>;
      p !== base;
      p = Object.getPrototypeOf(p) as Record<string, Callback>
    ) {
      if (!Object.hasOwn(p, name)) continue;
      const original = p[name]!;
      if (wrapped.has(original)) break;
      const wrapper: Callback = function (...args) {
        const outer = reached;
        reached = new Set();
        try {
          return original.apply(this, args);
        } finally {
          const missed = !reached.has(name);
          reached = outer;
          outer?.add(name);
          if (missed) {
            report(
              mistake(
                'InvalidStateError',
                'super-forgotten',
                this.localName,
                `<${this.localName}>: ${Class.name}.${name}() does not call super.${name}(${args.length ? '…' : ''}), so the element does not work. ` +
                  `Name the method ${hookFor[name]} instead, which needs no super, or call super.${name}(${args.length ? '...arguments' : ''}) first.`,
              ),
            );
          }
        }
      };
      wrapped.add(wrapper);
      p[name] = wrapper;
      break;
    }
  }
}

const wrapped = new WeakSet<Callback>();

let lastMade: WeakRef<HTMLElement> | undefined;

/**
 * Remembers the element whose constructor runs. If the platform rejects the element (DOM §4.9, "create an element": no
 * attributes, no children), a warning names the element and what its constructor added.
 */
export function noteConstruction(host: HTMLElement): void {
  lastMade = new WeakRef(host);
}

// Added early, so that the listener does not count as a leftover of a test.
if (__DEV__ && typeof document === 'object') {
  addEventListener('error', event => {
    const element = lastMade?.deref();
    if (
      !element ||
      element.isConnected ||
      !/NotSupportedError/.test(String((event.error as Error | null)?.name ?? event.message))
    )
      return;
    const { tag, name } = { tag: element.localName, name: element.attributes[0]?.name };
    if (name === undefined && element.childNodes.length === 0) return;
    lastMade = undefined;
    const [what, fix] =
      name === undefined
        ? ['adds children', 'Put them into view(), or add them in connected().']
        : [
            `sets "${name}"`,
            name === 'role' || name.startsWith('aria-')
              ? `Move it to connected(), or give the default with ElementInternals: this.internals.${name === 'role' ? 'role' : name.replace(/-(.)/, (_, l: string) => l.toUpperCase())} = "…".`
              : 'Move it to connected().',
          ];
    // In a task: the platform swallows messages printed while it reports its own error.
    const error = mistake(
      'NotSupportedError',
      name === undefined ? 'constructor-children' : 'constructor-attributes',
      tag,
      `<${tag}> ${what} in its constructor, so document.createElement cannot create it. ${fix}`,
    );
    queueMicrotask(() => report(error));
  });
}

/**
 * Throws if a class field has the name of a declared property: the field hides the accessor, so assigned values would
 * not be shown.
 */
export function refuseHiddenProperties(host: HTMLElement, names: readonly string[]): void {
  const hidden = names.find(name => Object.hasOwn(host, name));
  if (hidden === undefined) return;
  report(
    mistake(
      'TypeError',
      'property-hidden',
      host.localName,
      `<${host.localName}>: the class has a field "${hidden}", which hides the declared property "${hidden}". ` +
        "Take the field out; give a first value with the kind's default, or with data(() => …).",
    ),
  );
}
