/** Checks declarations at run time, for authors who write JavaScript. */
import type { Declaration, Kind } from '../contract/index.ts';
import { nearest } from '../view/nearest.ts';
import { mistake } from './messages.ts';

/** @throws TypeError that says what to write. */
export function refuseOddDeclaration(tag: string, declaration: Declaration): void {
  const refuse = (text: string): never => {
    throw mistake('TypeError', 'declaration-odd', tag, `<${tag}>: ${text}`);
  };
  if (!isRecord(declaration))
    refuse(
      `contract() needs what the element declares, and ${declaration === undefined ? 'nothing' : named(declaration)} was given. Write an object, empty if it declares nothing: contract('${tag}', {}).`,
    );
  refuseUnknownKeys(declaration, refuse);
  refuseOddSemantics(declaration.semantics, declaration.extends, refuse);
  for (const [name, state] of Object.entries(declaration.states ?? {}))
    if (typeof state !== 'string' && !(isRecord(state) && typeof state.when === 'function'))
      refuse(
        `the state "${name}" is ${named(state)}. Write ${name}: 'A sentence.', or ${name}: { about: 'A sentence.', when: element => … }.`,
      );
  for (const key of ['attributes', 'properties', 'events', 'slots'] as const) {
    const record = declaration[key] as unknown;
    if (record === undefined) continue;
    if (!isRecord(record))
      refuse(
        `"${key}" is ${named(record)}, and has to be an object: a name for each. Write ${key}: { ${examples[key]} }.`,
      );
    for (const [name, value] of Object.entries(record as object)) {
      if (isRecord(value) && (key !== 'attributes' || 'read' in value) && (key !== 'properties' || 'make' in value)) {
        if (key === 'attributes') refuseOddChoice(name, value as Kind<unknown>, refuse);
        continue;
      }
      const kind = typeof value === 'function' && /^[a-z]\w*$/.test(value.name) ? value.name : undefined;
      refuse(
        `"${name}" in "${key}" is ${named(value)}.${kind ? ` Call it: ${name}: ${kind}().` : ` Write for example ${key}: { ${examples[key]} }.`}`,
      );
    }
  }
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
function refuseUnknownKeys(declaration: object, refuse: (text: string) => never): void {
  for (const key of Object.keys(declaration)) {
    if ((keys as readonly string[]).includes(key)) continue;
    const near = nearest(key, keys);
    refuse(`a contract has no "${key}".${near ? ` Did you mean "${near}"?` : ` It has ${keys.join(', ')}.`}`);
  }
}

/** @throws TypeError for a choice without keywords, and for a default that is none of them. */
function refuseOddChoice(name: string, { kind, details = {} }: Kind<unknown>, refuse: (text: string) => never): void {
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
function refuseOddSemantics(semantics: unknown, extended: string | undefined, refuse: (text: string) => never): void {
  if (semantics === undefined) return;
  if (!isRecord(semantics))
    refuse(`"semantics" is ${named(semantics)}, and has to be an object. Write semantics: { role: 'meter' }.`);
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
} as const;

const isRecord = (value: unknown): value is object =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

function named(value: unknown): string {
  if (value === null || value === undefined) return String(value);
  if (Array.isArray(value)) return 'a list';
  return typeof value === 'object' ? 'another object' : `a ${typeof value}`;
}
