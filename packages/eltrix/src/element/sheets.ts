/** Gives roots their style sheets. */
import { kindOf } from '../signals/kind-of.ts';
import { report } from '../signals/report.ts';
import { mistake } from './messages.ts';
import { atSlots } from './part.ts';
import type { Part } from './plan.ts';
import { type StyleSource, StyleText, sheetFor } from './styles.ts';

/** Gives a shadow root its sheets for its current document. */
function adoptSheets(root: ShadowRoot, sources: readonly StyleSource[]): void {
  if (sources.length === 0) return;
  const document = root.ownerDocument;
  const sheets = sources.map(source => sheetFor(source, document));
  if (sheets.every(sheet => sheet !== undefined)) {
    if ('adoptedStyleSheets' in root) root.adoptedStyleSheets = sheets;
    return;
  }
  // Without constructed sheets (a simulated DOM) each root gets `<style>` elements, once.
  if (root.querySelector('style[data-eltrix]')) return;
  for (const source of sources) {
    if (!(source instanceof StyleText)) continue;
    const style = source.element(document);
    style.setAttribute('data-eltrix', '');
    root.append(style);
  }
}

/** For classes with sheets that may change or are not known, and for documents without constructed sheets. */
export const sheetsPart: Part = {
  at: atSlots,
  adoptSheets({ host, root, plan }) {
    const odd: unknown = plan.styleSheets.find(sheet => typeof sheet !== 'object');
    if (__DEV__ && odd !== undefined)
      return report(
        mistake(
          'TypeError',
          'sheet-type',
          host.localName,
          `<${host.localName}>: styleSheets takes sheets, and ${kindOf(odd)} came. Write stylesheet\`…\`.`,
        ),
      );
    adoptSheets(root as ShadowRoot, plan.styleSheets);
  },
};
