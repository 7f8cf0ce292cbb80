/** The code that goes through a copy of a template to the nodes that have bindings. */

/**
 * @param path triples (from step, down, siblings); step 0 is the root.
 * @param wanted the steps whose nodes are returned, in this order.
 */
export function walkCode(path: readonly number[], wanted: readonly number[]): string {
  const steps = stepsCode(path, 'n');
  const nodes = `[${wanted.map(step => `n${step}`).join(', ')}]`;
  return steps ? `n0 => { ${steps} return ${nodes}; }` : `n0 => ${nodes}`;
}

/** Constants for the nodes of the steps. @param name of the constants, before their numbers. */
export function stepsCode(path: readonly number[], name: string): string {
  const steps: string[] = [];
  for (let i = 0; i < path.length; i += 3) {
    const [from, down, siblings] = path.slice(i, i + 3) as [number, number, number];
    const below = ['', '.firstChild', '.content.firstChild'][down]!;
    steps.push(`${name}${steps.length + 1} = ${name}${from}${below}${'.nextSibling'.repeat(siblings)}`);
  }
  return steps.length > 0 ? `const ${steps.join(', ')};` : '';
}
