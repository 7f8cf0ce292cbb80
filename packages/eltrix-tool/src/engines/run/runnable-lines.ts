/** The lines of a source that can run: the first lines of statements and class members. */
import { isType, parseModule, walk } from '../../project/syntax.ts';

/** Line numbers from 1; none for a source with a syntax error. */
export function runnableLines(file: string, code: string): ReadonlySet<number> {
  const lines = new Set<number>();
  const { program } = parseModule(file, code) ?? {};
  if (!program) return lines;
  const starts = [0];
  for (let at = code.indexOf('\n'); at >= 0; at = code.indexOf('\n', at + 1)) starts.push(at + 1);
  walk(program, node => {
    if (isType(node) || node['exportKind'] === 'type' || node.type === 'ImportDeclaration') return false;
    if (/Statement$|Declaration$|Definition$/.test(node.type) && node.type !== 'BlockStatement')
      lines.add(starts.findLastIndex(start => start <= node.start) + 1);
    return true;
  });
  return lines;
}
