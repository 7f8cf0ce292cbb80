/** Checks declarations at run time, for authors who write JavaScript. */
import type { Declaration, Kind } from '../contract/index.ts';
import { kindOf } from '../signals/kind-of.ts';
import { nearest } from '../view/nearest.ts';
import { mistake } from './messages.ts';

type Refuse = (text: string) => never;

/** @throws TypeError that says what to write. */
export function refuseOddDeclaration(tag: string, declaration: Declaration): void {
  const refuse: Refuse = text => {
    throw mistake('TypeError', 'declaration-odd', tag, `<${tag}>: ${text}`);
  };
  if (!isRecord(declaration))
    refuse(
      `contract() needs what the element declares, and ${declaration === undefined ? 'nothing' : kindOf(declaration)} was given. Write an object, empty if it declares nothing: contract('${tag}', {}).`,
    );
  refuseUnknownKeys(declaration, refuse);
  refuseOddOptions(declaration, refuse);
  refuseOddSemantics(declaration.semantics, declaration.extends, refuse);
  for (const [name, state] of Object.entries(declaration.states ?? {}))
    if (typeof state !== 'string' && !(isRecord(state) && typeof state.when === 'function'))
      refuse(
        `the state "${name}" is ${kindOf(state)}. Write ${name}: 'A sentence.', or ${name}: { about: 'A sentence.', when: element => … }.`,
      );
  for (const key of ['attributes', 'properties', 'events', 'slots'] as const) {
    for (const [name, value] of membersOf(declaration, key, refuse)) {
      if (isRecord(value) && (key !== 'attributes' || 'read' in value) && (key !== 'properties' || 'make' in value)) {
        if (key === 'attributes') refuseOddChoice(name, value as Kind<unknown>, refuse);
        continue;
      }
      const kind = typeof value === 'function' && /^[a-z]\w*$/.test(value.name) ? value.name : undefined;
      refuse(
        `"${name}" in "${key}" is ${kindOf(value)}.${kind ? ` Call it: ${name}: ${kind}().` : ` Write for example ${key}: { ${examples[key]} }.`}`,
      );
    }
  }
}

/** The members of a record of a declaration. @throws TypeError if it is none. */
function membersOf(declaration: Declaration, key: keyof typeof examples, refuse: Refuse): [string, unknown][] {
  const record = declaration[key] as unknown;
  if (record !== undefined && !isRecord(record))
    refuse(
      `"${key}" is ${kindOf(record)}, and has to be an object: a name for each. Write ${key}: { ${examples[key]} }.`,
    );
  return Object.entries(record ?? {});
}

/** What the other options can be, with what to write. */
const options = {
  about: ['string', "about: 'A sentence.'"],
  deprecated: ['string', "deprecated: 'use hive-card'"],
  form: ['boolean', 'form: true'],
  render: ['boolean', 'render: false'],
  extends: ['string', "the built-in tag, for example extends: 'button'"],
} as const;

/** @throws TypeError for a value that an option cannot have. */
function refuseOddOptions(declaration: Declaration, refuse: Refuse): void {
  for (const [name, [type, instead]] of Object.entries(options)) {
    const value = declaration[name as keyof typeof options] as unknown;
    if (value !== undefined && typeof value !== type) refuse(`"${name}" is ${kindOf(value)}. Write ${instead}.`);
  }
  for (const key of ['parts', 'cssProperties'] as const)
    for (const [name, about] of membersOf(declaration, key, refuse)) {
      if (typeof about !== 'string')
        refuse(`"${name}" in "${key}" is ${kindOf(about)}. Write for example ${key}: { ${examples[key]} }.`);
      if (key === 'cssProperties' && !name.startsWith('--'))
        refuse(`"${name}" in "cssProperties" has no hyphens. Write '--${name}'.`);
    }
  const { exempt } = declaration.conformance ?? {};
  if (exempt !== undefined && !isRecord(exempt))
    refuse(
      `"exempt" in "conformance" is ${kindOf(exempt)}. Write conformance: { exempt: { 'made-alike': 'The reason.' } }.`,
    );
  refuseOddShadow(declaration.shadow, refuse);
}

/** @throws TypeError for anything but `'none'` and options of a root: the root would be open. */
function refuseOddShadow(shadow: unknown, refuse: Refuse): void {
  if (shadow === undefined || shadow === 'none') return;
  const modes: readonly unknown[] = ['open', 'closed'];
  if (!isRecord(shadow))
    refuse(
      `"shadow" is ${kindOf(shadow)}. Write ${modes.includes(shadow) ? `shadow: { mode: '${shadow}' }` : "shadow: 'none' to show the view in the element, or shadow: { mode: 'closed' }"}.`,
    );
  const { mode = 'open' } = shadow as { mode?: unknown };
  if (!modes.includes(mode)) refuse(`"mode" in "shadow" is ${kindOf(mode)}. Write 'open' or 'closed'.`);
}

const keys: readonly (keyof Declaration)[] = [
  ...([
    'about',
    'deprecated',
    'attributes',
    'properties',
    'events',
    'slots',
    'parts',
    'cssProperties',
    'states',
  ] as const),
  ...(['semantics', 'conformance', 'render', 'form', 'shadow', 'extends'] as const),
];

/** @throws TypeError for a key that a declaration does not have. */
function refuseUnknownKeys(declaration: object, refuse: Refuse): void {
  for (const key of Object.keys(declaration)) {
    if ((keys as readonly string[]).includes(key)) continue;
    const near = nearest(key, keys);
    refuse(`a contract has no "${key}".${near ? ` Did you mean "${near}"?` : ` It has ${keys.join(', ')}.`}`);
  }
}

/** @throws TypeError for a choice without keywords, and for a default that is none of them. */
function refuseOddChoice(name: string, { kind, details = {} }: Kind<unknown>, refuse: Refuse): void {
  if (kind !== 'choice') return;
  const values = details['values'] as readonly string[];
  if (!Array.isArray(values) || values.length === 0)
    refuse(`"${name}" is a choice without keywords. Write ${name}: choice(['calm', 'busy']).`);
  for (const option of ['missing', 'invalid'] as const) {
    const value = details[option];
    if (value !== '' && value !== null && !values.includes(value as string))
      refuse(`"${option}" of "${name}" is "${value}", which is none of ${values.map(one => `"${one}"`).join(', ')}.`);
  }
}

/** @throws TypeError for names that ElementInternals does not have. */
function refuseOddSemantics(semantics: unknown, extended: string | undefined, refuse: Refuse): void {
  if (semantics === undefined) return;
  if (!isRecord(semantics))
    refuse(`"semantics" is ${kindOf(semantics)}, and has to be an object. Write semantics: { role: 'meter' }.`);
  if (extended !== undefined)
    refuse(`an element that extends <${extended}> has that one's semantics. Take out "semantics".`);
  const known = globalThis.ElementInternals?.prototype;
  for (const name of Object.keys(semantics as object)) {
    if (name === 'role' || /^aria[A-Z]/.test(name)) {
      if (!known || name in known || !('ariaLabel' in known)) continue;
    }
    const aria = /^aria-/.test(name)
      ? ` Did you mean "${name.replace(/-([a-z])/, (_, letter: string) => letter.toUpperCase()).replaceAll('-', '')}"?`
      : '';
    refuse(
      `"${name}" in "semantics" is no member of ElementInternals.${aria || ' Write "role" or a name such as "ariaLabel".'}`,
    );
  }
}

const examples = {
  attributes: 'label: text()',
  properties: 'items: data(() => [])',
  events: "'item-open': event()",
  slots: "badge: slot('A badge.')",
  parts: "badge: 'The badge.'",
  cssProperties: "'--badge-edge': 'Colour of the edge of the badge.'",
} as const;

const isRecord = (value: unknown): value is object =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
