/** Uses an element as a user would, as far as scripts can: clicks, types, presses keys. */

import { quiet } from './quiet.ts';
import { deepElements } from './stage.ts';
import { clickable, real } from './watch.ts';

const native = 'button, a[href], input, select, textarea, summary, [role=button], [tabindex]';

/** The clickable nodes of an element. */
export function controlsIn(element: HTMLElement): HTMLElement[] {
  const inside = element.shadowRoot ? [...deepElements(element.shadowRoot)] : [...element.querySelectorAll('*')];
  return inside.filter(
    (node): node is HTMLElement =>
      node instanceof HTMLElement && (node.matches(native) || (clickable.get(node)?.has('click') ?? false)),
  );
}

/** @param look called after each control. */
export async function provoke(element: HTMLElement, look = () => {}): Promise<void> {
  for (const control of controlsIn(element)) {
    if (!control.isConnected) continue;
    await operate(control);
    look();
  }
}

/** Clicks one control, or types into it, and presses keys in it. */
export async function operate(control: HTMLElement): Promise<void> {
  if (control instanceof HTMLInputElement && control.type === 'file') choose(control);
  else if (control instanceof HTMLInputElement && !/^(?:checkbox|radio|button|submit|reset|image)$/.test(control.type))
    type(control);
  else if (control instanceof HTMLTextAreaElement) type(control);
  else if (control instanceof HTMLSelectElement) {
    control.selectedIndex = Math.min(1, control.options.length - 1);
    say(control, 'input', 'change');
  } else if (!(control instanceof HTMLAnchorElement)) control.click();
  for (const key of ['Enter', 'ArrowRight', 'Escape'])
    real.dispatchEvent.call(
      control,
      new KeyboardEvent('keydown', { key, bubbles: true, composed: true, cancelable: true }),
    );
  await quiet();
}

/** Two values for each type of field that does not take any text (HTML §4.10.5.1). */
const values: Readonly<Record<string, readonly [string, string]>> = {
  date: ['2026-05-14', '2026-05-15'],
  month: ['2026-05', '2026-06'],
  week: ['2026-W20', '2026-W21'],
  time: ['10:30', '10:31'],
  'datetime-local': ['2026-05-14T10:30', '2026-05-15T10:30'],
  color: ['#336699', '#996633'],
  email: ['sorrel@example.org', 'rosemary@example.org'],
  url: ['https://example.org/sorrel', 'https://example.org/rosemary'],
  number: ['3', '4'],
  range: ['3', '4'],
};

function type(field: HTMLInputElement | HTMLTextAreaElement): void {
  const { value } = field;
  const known = field instanceof HTMLInputElement ? values[field.type] : undefined;
  // A text that begins with a digit is meant as a number.
  const [one, other] = known ?? (/^-?\d/.test(value) ? values['number']! : ['Sorrel', 'Rosemary']);
  field.value = value === one ? other : one;
  say(field, 'input', 'change');
}

/** A script may give files to a field that it has made itself (HTML §4.10.5.1.17). */
function choose(field: HTMLInputElement): void {
  const data = new DataTransfer();
  data.items.add(new File(['Sorrel'], 'sorrel.txt', { type: 'text/plain' }));
  field.files = data.files;
  say(field, 'input', 'change');
}

/** Events of the platform, which do not count as the element's. */
function say(field: Element, ...types: string[]): void {
  for (const type of types)
    real.dispatchEvent.call(field, new Event(type, { bubbles: true, composed: type === 'input' }));
}
