/** The style sheets of an element in the output. */
import { planOf } from '../element/make-plan.ts';
import type { Plan } from '../element/plan.ts';
import { scopedCss, scopeSelector } from '../element/scoped-css.ts';
import { escapeAttribute, escapeCss } from './escape.ts';
import { knownElements, type RenderedElements } from './known-elements.ts';

export interface StyleOptions {
  /**
   * `'inline'`, the default: a `<style>` in each root. `'linked'`: a `<link>` to `<tag>.css` of the build, which a strict
   * content security policy allows and browsers cache. `'none'`: no styles before the script has arrived.
   */
  readonly styles?: 'inline' | 'linked' | 'none' | undefined;
  /** The URL path of the build's files, for linked styles: `/widgets/`. */
  readonly base?: string | undefined;
}

const texts = new WeakMap<Plan, string>();

/** The CSS of an element for its root; for an element without a shadow root, limited to the element. */
export function cssOf(plan: Plan, tag: string): string {
  let css = texts.get(plan);
  if (css === undefined) {
    css = plan.styleSheets.map(sheet => ('text' in sheet ? sheet.text : '')).join('\n');
    if (plan.contract.shadow === 'none' && css.trim() !== '') {
      const { extends: extended } = plan.contract;
      css = scopedCss(css, scopeSelector(extended === undefined ? tag : plan.contract.tag, extended));
    }
    texts.set(plan, css);
  }
  return css;
}

let usualBase = '/';

/**
 * Sets the URL path of the build's files, for calls without the option `base`. `server.js` of a build calls it.
 * @example useBase('/widgets/');
 */
export function useBase(base: string): void {
  usualBase = base;
}

/**
 * The style sheets for linked styles, by file name: `hive-card.css`.
 *
 * @param elements the classes; all defined ones unless given.
 * @example for (const [name, css] of Object.entries(styleFiles())) writeFileSync(`public/${name}`, css);
 */
export function styleFiles(elements?: RenderedElements): Record<string, string> {
  const files: Record<string, string> = {};
  for (const [tag, Class] of knownElements(elements)) {
    const css = cssOf(planOf(Class as never), tag);
    if (css.trim() !== '') files[`${tag}.css`] = css;
  }
  return files;
}

export function styleHtml(plan: Plan, tag: string, { styles = 'inline', base = usualBase }: StyleOptions): string {
  if (styles === 'none' || plan.styleSheets.length === 0) return '';
  if (styles === 'linked')
    return `<link rel="stylesheet" href="${escapeAttribute(`${base}${plan.contract.tag}.css`)}" data-eltrix>`;
  const css = cssOf(plan, tag);
  return css.trim() === '' ? '' : `<style data-eltrix>${escapeCss(css)}</style>`;
}
