/** Style sheets of static elements ("lean" in code) that come from other modules, which may do more with them. */
import { BuiltSheet } from '../built-sheet.ts';
import { type StyleSheets, type StyleSource, sheetFor } from '../styles.ts';

/** What a static element needs of a sheet. */
export interface LeanSheet {
  sheetFor(document: Document): CSSStyleSheet;
}

/** @param sources texts, and what `static styleSheets` takes. The same sheet counts once. */
export function leanSheets(sources: readonly (string | StyleSheets)[]): LeanSheet[] {
  return [...new Set((sources as readonly unknown[]).flat(Infinity) as (string | StyleSource)[])].map(source => {
    if (typeof source === 'string') return new BuiltSheet(source);
    // What is no sheet throws when it is needed. Static elements are only built for engines with constructed sheets.
    return 'sheetFor' in Object(source) ? (source as LeanSheet) : { sheetFor: document => sheetFor(source, document)! };
  });
}
