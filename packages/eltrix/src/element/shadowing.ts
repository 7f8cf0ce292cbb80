import type { Declaration } from '../contract/index.ts';
import { elementMembers } from './element-members.ts';
import { mistake } from './messages.ts';

const ours = new Set(
  'view emit states internals slotted isFilled define assembled connected disconnected moved adopted attributeChanged propertyChanged formAssociated formDisabled formReset formStateRestore formValue validate'.split(
    ' ',
  ),
);
const formMembers = new Set(
  'form labels validity validationMessage willValidate checkValidity reportValidity'.split(' '),
);

/** Whose member a property with this name would hide: the library's, or that of every HTML element. */
export function ownerOf(name: string, isForm: boolean): 'Eltrix' | 'HTMLElement' | undefined {
  if (ours.has(name) || (isForm && formMembers.has(name))) return 'Eltrix';
  const platform = (globalThis as { HTMLElement?: { prototype: object } }).HTMLElement?.prototype;
  const onElements = platform ? name in platform : elementMembers.has(name);
  return onElements && !/^(?:role$|aria[A-Z])/.test(name) ? 'HTMLElement' : undefined;
}

/**
 * Rejects a property with the name of a member of elements. `role` and `aria…` are allowed, since they reflect alike.
 */
export function refuseShadowing(tag: string, name: string, declaration: Declaration): void {
  const owner = ownerOf(name, declaration.form === true);
  if (!owner) return;
  throw mistake(
    'TypeError',
    'name-taken',
    tag,
    `<${tag}>: the property "${name}" would take the place of the member "${name}" that ${owner === 'Eltrix' ? 'the library gives its elements' : 'every HTML element has'}. ` +
      `Choose another name, for example "${tag.split('-').at(-1)}${name[0]!.toUpperCase()}${name.slice(1)}".`,
  );
}
