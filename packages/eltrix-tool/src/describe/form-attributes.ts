/** The attributes of every form-associated custom element (HTML §4.13.1), for tools. */
import type { ElementDescription } from './description.ts';

export interface FormAttribute {
  readonly name: string;
  /** As a TypeScript type. */
  readonly type: 'string' | 'boolean';
  readonly about: string;
}

const attributes: readonly FormAttribute[] = [
  { name: 'name', type: 'string', about: 'The name under which its value is submitted.' },
  { name: 'form', type: 'string', about: 'The id of its form, if the form is not an ancestor.' },
  { name: 'disabled', type: 'boolean', about: 'Whether it cannot be changed and is not submitted.' },
];

/** The attributes that the contract does not declare itself. */
export function formAttributesOf({ form, properties }: ElementDescription): readonly FormAttribute[] {
  if (!form) return [];
  return attributes.filter(({ name }) => !properties.some(own => own.attribute === name || own.name === name));
}
