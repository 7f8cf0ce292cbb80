/** Text that is not known before something else has filled it in. */

/** Stands for unknown text: the expressions of markup in a source. */
export const placeholder = '\uE000';

/**
 * Whether text contains the delimiters of a template language, as pages do that a server or a script fills in:
 * `{{ }}`, `{% %}`, `<% %>`, `<? ?>`, `${ }`.
 */
export const hasTemplateSyntax = (text: string): boolean => /\{\{|\{%|<%|<\?|\$\{/.test(text);

/** Whether text or a part of it is unknown, so that it cannot be checked. */
export const isUnknownText = (text: string): boolean => text.includes(placeholder) || hasTemplateSyntax(text);
