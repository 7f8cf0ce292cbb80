/** Where the parts of a contract stand in a source. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { ElementDescription } from '../describe/description.ts';
import { bare, fieldsOf, type Node, parseModule, walk } from '../project/syntax.ts';

export type ContractGroup = 'attributes' | 'properties' | 'events' | 'slots' | 'parts' | 'cssProperties' | 'states';

/** A stretch of a file, as offsets. */
export interface FilePlace {
  /** From the project's folder. */
  readonly file: string;
  readonly text: string;
  readonly start: number;
  readonly end: number;
}

/** The class of an element; with a group and a name, what the contract says of that. Undefined if it is not written there. */
export function placeOf(
  root: string,
  element: ElementDescription,
  group?: ContractGroup,
  name?: string,
): FilePlace | undefined {
  const { file, className } = element;
  let text: string;
  try {
    text = readFileSync(join(root, file), 'utf8');
  } catch {
    return undefined;
  }
  const program = parseModule(file, text)?.program;
  if (!program) return undefined;
  let found: Node | undefined;
  walk(program, node => {
    if (found) return false;
    if (/^Class/.test(node.type) && node['id']?.name === className) found = node;
    return !found;
  });
  if (!found) return undefined;
  const place = ({ start, end }: Node): FilePlace => ({ file, text, start, end });
  if (group === undefined || name === undefined) return place(found['id']);
  const call = found['superClass'] && bare(found['superClass']);
  const declaration = call?.type === 'CallExpression' ? (call['arguments'] as Node[])[1] : undefined;
  const field = declaration && fieldsOf(bare(declaration))?.get(group);
  const member = field && fieldsOf(bare(field['value']))?.get(name);
  return member ? place(member['key']) : place(found['id']);
}
