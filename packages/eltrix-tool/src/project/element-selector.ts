/** A selector for an element by its tag, which may have a dot, and for a customized built-in element. */
export const elementSelector = (tag: string): string => `${CSS.escape(tag)}, [is="${tag}"]`;
