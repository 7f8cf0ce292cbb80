/** What `user` and the recorders take; anything else gets an error that says what to write. */
import { kindOf } from '../../../eltrix/src/signals/kind-of.ts';
import { meantKey, namedKeys } from './keys.ts';

const came = (value: unknown) => (value instanceof Element ? `<${value.localName}>` : kindOf(value));

/** @throws TypeError if it is no element. */
export function checkElement(value: unknown, call: string): void {
  if (typeof value === 'object' && value !== null && 'getBoundingClientRect' in value) return;
  const instead =
    typeof value === 'string'
      ? ` Write user.${call}(document.querySelector(${JSON.stringify(value)})), or deep(${JSON.stringify(value)}) to look into shadow roots.`
      : value === null || value === undefined
        ? ' Its selector may have found nothing: deep() throws then, and says which part is missing.'
        : '';
  throw new TypeError(`(user-element): user.${call}() takes an element, and ${came(value)} came.${instead}`);
}

/** @throws TypeError if it is no text. */
export function checkText(value: unknown): void {
  if (typeof value === 'string') return;
  throw new TypeError(
    `(user-text): user.type() takes an element and a text, and ${came(value)} came as the text. Write user.type(field, 'Rosemary').`,
  );
}

/** @throws TypeError if it is no key that every engine has. */
export function checkKey(value: unknown): void {
  if (typeof value === 'string' && ([...value].length === 1 || value in namedKeys)) return;
  if (value instanceof Element)
    throw new TypeError(
      `(user-key): user.press() takes a key, and <${value.localName}> came. The key goes to the focused element: element.focus(), then user.press('Enter').`,
    );
  const [last = '', ...held] = typeof value === 'string' ? value.split('+').reverse() : [];
  const meant = typeof value === 'string' ? meantKey(value) : undefined;
  const instead =
    meant !== undefined
      ? `Write ${JSON.stringify(meant)}.`
      : held.length > 0
        ? `Write user.press(${JSON.stringify(meantKey(last) ?? last)}, { holding: ${JSON.stringify(held.reverse().map(key => meantKey(key) ?? key))} }).`
        : `A key is a character, or one of ${Object.keys(namedKeys).join(', ')}.`;
  throw new TypeError(`(user-key): ${came(value)} is no key. ${instead}`);
}

/** @throws TypeError if there are no types of events. */
export function checkTypes(types: unknown, call: string): void {
  const all = [types].flat();
  if (all.length > 0 && all.every(type => typeof type === 'string' && type !== '')) return;
  throw new TypeError(
    `(event-types): ${call}() takes a target and types of events, and ${came(types)} came as the types. Write ${call}(element, 'hive-open').`,
  );
}
