import { kindOf } from '../signals/kind-of.ts';

/**
 * Creates the CSS of a style sheet with expressions.
 * @throws TypeError for what is no CSS as its author wrote it, no number and no other sheet.
 */
export function sheetText(
  strings: TemplateStringsArray,
  ...values: (string | number | { readonly text: string })[]
): string {
  return String.raw(
    // CSS escapes such as `'\\201C'` have no cooked text.
    { raw: strings.map((text: string | undefined, i) => text ?? strings.raw[i]!) },
    ...values.map((value, index) => {
      if (typeof value === 'string' || typeof value === 'number') return value;
      if (typeof value?.text === 'string') return value.text;
      throw new TypeError(
        __DEV__
          ? `(stylesheet-hole): expression ${index + 1} of a stylesheet takes CSS as text, a number or another stylesheet, and ${kindOf(value)} came. What changes goes through a custom property: var(--name).`
          : 'stylesheet-hole',
      );
    }),
  );
}
