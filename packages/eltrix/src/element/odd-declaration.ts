/** Declarations that no type would let through: what is written in JavaScript meets nothing before this. */
import type { Declaration } from '../contract/index.ts';
import { mistake } from './messages.ts';

/** @throws TypeError that says what to write. */
export function refuseOddDeclaration(tag: string, declaration: Declaration): void {
  const refuse = (text: string) => {
    throw mistake('TypeError', 'declaration-odd', tag, `<${tag}>: ${text}`);
  };
  if (!isRecord(declaration))
    refuse(
      `contract() needs what the element declares, and ${declaration === undefined ? 'nothing' : named(declaration)} was given. Write an object, empty if it declares nothing: contract('${tag}', {}).`,
    );
  for (const key of ['attributes', 'properties', 'events', 'slots'] as const) {
    const record = declaration[key] as unknown;
    if (record === undefined) continue;
    if (!isRecord(record))
      refuse(
        `"${key}" is ${named(record)}, and has to be an object: a name for each. Write ${key}: { ${examples[key]} }.`,
      );
    for (const [name, value] of Object.entries(record as object)) {
      if (isRecord(value) && (key !== 'attributes' || 'read' in value) && (key !== 'properties' || 'make' in value))
        continue;
      const kind = typeof value === 'function' && /^[a-z]\w*$/.test(value.name) ? value.name : undefined;
      refuse(
        `"${name}" in "${key}" is ${named(value)}.${kind ? ` Call it: ${name}: ${kind}().` : ` Write for example ${key}: { ${examples[key]} }.`}`,
      );
    }
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
