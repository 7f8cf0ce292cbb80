/** The value of a field that cannot have it yet: its options or its limits may come later, or go and come back. */

type Field = Element & { readonly type?: string; readonly value: unknown };

/**
 * Calls a function when the options of a `<select>`, the limits of a range, or the type of an `<input>` have changed.
 * @param isObserved whether the field is one of them.
 */
export function watchField(
  field: Field,
  changed: () => void,
  isObserved = /^(?:select|range)/.test(field.type!),
): MutationObserver | undefined {
  if (!isObserved) return undefined;
  const observer = new MutationObserver(changed);
  observer.observe(field, { childList: true, subtree: true, attributeFilter: ['type', 'min', 'max', 'step', 'value'] });
  return observer;
}

const ends = /* @__PURE__ */ new WeakMap<Element, () => void>();
const byUser = ['input', 'change'];

/** Sets a value again when the field can have it, until the user changes the field, or there is another value. */
export function keepValue(field: Field, value: unknown, write: () => void): void {
  ends.get(field)?.();
  const observer = watchField(field, () => field.value !== String(value) && write());
  if (!observer) return;
  const end = () => {
    observer.disconnect();
    ends.delete(field);
    for (const type of byUser) field.removeEventListener(type, end);
  };
  ends.set(field, end);
  for (const type of byUser) field.addEventListener(type, end);
}
