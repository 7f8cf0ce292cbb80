/** Uses an element as a user would, as far as scripts can: clicks, types, presses keys. */
import { deepElements } from './stage.ts';
import { clickable, quiet, real } from './watch.ts';

const native = 'button, a[href], input, select, textarea, summary, [role=button], [tabindex]';

/** The clickable nodes of an element. */
export function controlsIn(element: HTMLElement): HTMLElement[] {
  const inside = element.shadowRoot ? [...deepElements(element.shadowRoot)] : [...element.querySelectorAll('*')];
  return inside.filter(
    (node): node is HTMLElement =>
      node instanceof HTMLElement && (node.matches(native) || (clickable.get(node)?.has('click') ?? false)),
  );
}

export async function provoke(element: HTMLElement): Promise<void> {
  for (const control of controlsIn(element)) if (control.isConnected) await operate(control);
}

/** Clicks one control, or types into it, and presses keys in it. */
export async function operate(control: HTMLElement): Promise<void> {
  if (control instanceof HTMLInputElement && !/^(?:checkbox|radio|button|submit|reset|image|file)$/.test(control.type))
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

function type(field: HTMLInputElement | HTMLTextAreaElement): void {
  const { value } = field;
  field.value =
    field instanceof HTMLInputElement && /^(?:number|range)$/.test(field.type)
      ? '3'
      : /^-?\d/.test(value)
        ? '3'
        : 'Sorrel';
  say(field, 'input', 'change');
}

/** Events of the platform, which do not count as the element's. */
function say(field: Element, ...types: string[]): void {
  for (const type of types)
    real.dispatchEvent.call(field, new Event(type, { bubbles: true, composed: type === 'input' }));
}
