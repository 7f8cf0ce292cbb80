/**
 * Emulates user settings: replaces the conditions of media rules by conditions that always match, or never. This works
 * in every engine, and in the style sheets of shadow roots.
 */

/** The settings to emulate. */
export interface Emulated {
  readonly scheme: 'system' | 'light' | 'dark';
  /** Reduced motion. */
  readonly calm: boolean;
  /** Forced colours. */
  readonly forced: boolean;
  readonly rtl: boolean;
  /** Text size in percent. */
  readonly text: number;
}

/** Media feature to the emulated value. */
type Wanted = ReadonlyMap<string, string>;

const holds = '(min-width: 0px)';
const fails = '(max-width: 0px)';

const originals = new WeakMap<CSSMediaRule, string>();
const roots = new Set<Document | ShadowRoot>([document]);
let wanted: Wanted = new Map();
let asked = false;

/** Records every shadow root, and every call of `matchMedia`. */
export function watchPage(): void {
  const { attachShadow } = Element.prototype;
  Element.prototype.attachShadow = function (options) {
    const root = attachShadow.call(this, options);
    roots.add(root);
    return root;
  };
  const { matchMedia } = window;
  window.matchMedia = query => {
    asked = true;
    return matchMedia.call(window, rewritten(query));
  };
}

function rewritten(query: string): string {
  return query.replace(/\(\s*([a-z-]+)\s*(?::\s*([a-z-]+)\s*)?\)/g, (condition, feature: string, value?: string) => {
    const holding = wanted.get(feature);
    if (holding === undefined) return condition;
    const none = feature === 'prefers-reduced-motion' ? 'no-preference' : 'none';
    return (value === undefined ? holding !== none : value === holding) ? holds : fails;
  });
}

/** @returns whether the page has to be reloaded, since its scripts have called `matchMedia` before. */
export function emulate({ scheme, calm, forced, rtl, text }: Emulated): boolean {
  const { documentElement: root } = document;
  root.dir = rtl ? 'rtl' : 'ltr';
  root.style.colorScheme = scheme === 'system' ? 'light dark' : scheme;
  root.style.fontSize = text === 100 ? '' : `${text}%`;
  const next = new Map<string, string>();
  if (scheme !== 'system') next.set('prefers-color-scheme', scheme);
  if (calm) next.set('prefers-reduced-motion', 'reduce');
  if (forced) next.set('forced-colors', 'active');
  const differs = [...next].join() !== [...wanted].join();
  wanted = next;
  rewriteSheets();
  return differs && asked;
}

/** Called again when there may be new style sheets. */
export function rewriteSheets(): void {
  for (const root of roots) for (const sheet of [...root.styleSheets, ...root.adoptedStyleSheets]) rewriteRules(sheet);
}

function rewriteRules(group: CSSStyleSheet | CSSGroupingRule): void {
  let rules: CSSRuleList;
  try {
    rules = group.cssRules;
  } catch {
    // A sheet of another origin.
    return;
  }
  for (const rule of rules) {
    if (rule instanceof CSSMediaRule) {
      const original = originals.get(rule) ?? rule.media.mediaText;
      originals.set(rule, original);
      const text = rewritten(original);
      if (rule.media.mediaText !== text) rule.media.mediaText = text;
    }
    if ('cssRules' in rule) rewriteRules(rule as CSSGroupingRule);
  }
}
