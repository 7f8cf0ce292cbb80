/** Style sheets made small. */
import { transform } from 'lightningcss';

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
