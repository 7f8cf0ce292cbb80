/** Finds the class of an element. */
import { join } from 'node:path';
import type { ElementDescription } from '../describe/description.ts';
import { textOf } from '../project/seen.ts';
import { type Node, parseModule, walk } from '../project/syntax.ts';

/** A range in a file, as offsets. */
export interface FilePlace {
  /** Relative to the project's folder. */
  readonly file: string;
  readonly text: string;
  readonly start: number;
  readonly end: number;
}

/** The name of an element's class; undefined if it is not in the file. */
export function classPlace(root: string, { file, className }: ElementDescription): FilePlace | undefined {
  let text: string;
  try {
    text = textOf(join(root, file));
  } catch {
    return undefined;
  }
  const program = parseModule(file, text)?.program;
  if (!program) return undefined;
  let found: Node | undefined;
  walk(program, node => {
    if (found) return false;
    if (/^Class/.test(node.type) && node['id']?.name === className) found = node['id'] as Node;
    return !found;
  });
  return found && { file, text, start: found.start, end: found.end };
}
