/** Finds the class of an element. */
import { join } from 'node:path';
import type { ElementDescription } from '../describe/description.ts';
import { elementsOfClasses } from '../describe/element-class.ts';
import { textOf } from '../project/seen.ts';
import { type Node, parseModule } from '../project/syntax.ts';

/** A range in a file, as offsets. */
export interface FilePlace {
  /** Relative to the project's folder. */
  readonly file: string;
  readonly text: string;
  readonly start: number;
  readonly end: number;
}

/** The name of an element's class, or its keyword; undefined if it is not in the file. */
export function classPlace(root: string, element: ElementDescription): FilePlace | undefined {
  const { file } = element;
  let text: string;
  try {
    text = textOf(join(root, file));
  } catch {
    return undefined;
  }
  const program = parseModule(file, text)?.program;
  if (!program) return undefined;
  const [node] = [...elementsOfClasses(program, [element]).keys()].reverse();
  // A class without a name is found by its keyword.
  const { start, end } = (node?.['id'] as Node | null) ?? { start: node?.start ?? 0, end: (node?.start ?? 0) + 5 };
  return node && { file, text, start, end };
}
