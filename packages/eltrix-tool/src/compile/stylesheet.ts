/** Style sheets made small. */
import { transform } from 'lightningcss';
import type { Node } from '../project/syntax.ts';

/** The CSS of a piece of a template: `content: '\201C'` stands for nothing in a template, and for a quotation mark in CSS. */
export function cssOf(quasi: Node): string {
  const { cooked, raw } = quasi['value'] as { cooked: string | null; raw: string };
  return cooked ?? raw;
}

/** @returns the CSS made small, or as it was with the reason if it cannot be understood in full. */
export function minifyCss(css: string): { readonly css: string; readonly problem?: string } {
  try {
    const { code, warnings } = transform({
      filename: 'sheet.css',
      code: Buffer.from(css),
      minify: true,
      errorRecovery: true,
    });
    const [warning] = warnings;
    // What is not understood would be left out.
    if (warning) return { css, problem: warning.message };
    return { css: code.toString() };
  } catch (error) {
    return { css, problem: error instanceof Error ? error.message : String(error) };
  }
}
