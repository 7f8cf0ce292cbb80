import { kindOf } from '../signals/kind-of.ts';

/**
 * The CSS of a style sheet with expressions.
 * @throws TypeError for what is no CSS as its author wrote it, no number and no other sheet.
 */
export function sheetText(
  strings: TemplateStringsArray,
  ...values: (string | number | { readonly text: string })[]
): string {
  return String.raw(
    // `'\\201C'` stands for nothing in a template, and for a quotation mark in CSS.
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
