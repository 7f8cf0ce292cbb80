/** The CSS of a file, as bundled. */
import { transform, type UrlDependency } from 'lightningcss';

/** CSS in parts, between which the URLs of its files are inserted. */
export interface BundledCss {
  readonly pieces: readonly (string | { readonly address: string })[];
  readonly problem?: string;
}

/** The target of a URL, independent of where the sheet is used. */
const elsewhere = /^(?:[a-z][a-z\d+.-]*:|\/|#|$)/i;

/** Bundles the CSS of a file, and separates the URLs of its files. */
export function bundledCss(css: string, minify: boolean): BundledCss {
  try {
    const { code, warnings, dependencies } = transform({
      filename: 'sheet.css',
      code: Buffer.from(css),
      minify,
      errorRecovery: true,
      analyzeDependencies: true,
    });
    const [warning] = warnings;
    if (warning) return { pieces: [css], problem: warning.message };
    if (dependencies?.some(({ type }) => type === 'import'))
      return { pieces: [css], problem: '@import does nothing in a constructed sheet; list both sheets in styleSheets' };
    let rest = code.toString();
    const pieces: (string | { address: string })[] = [];
    for (const { url, placeholder } of (dependencies ?? []) as UrlDependency[]) {
      const at = rest.indexOf(placeholder);
      pieces.push(rest.slice(0, at), elsewhere.test(url) ? url : { address: url.replace(/[?#].*$/, '') });
      rest = rest.slice(at + placeholder.length);
    }
    return { pieces: [...pieces, rest] };
  } catch (error) {
    return { pieces: [css], problem: error instanceof Error ? error.message : String(error) };
  }
}
