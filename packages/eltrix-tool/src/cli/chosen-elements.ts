import type { FoundElement } from '../project/discover.ts';
import { nearest } from '../project/nearest.ts';
import { noElements, ToolError } from '../project/tool-error.ts';

/**
 * The elements with some tags, or all.
 * @throws ToolError for an unknown tag, and for a project without elements.
 */
export function chosenElements(
  found: readonly FoundElement[],
  tags: readonly string[] | undefined,
  source: string,
): readonly FoundElement[] {
  if (found.length === 0) throw noElements(source);
  if (!tags) return found;
  const all = found.map(({ tag }) => tag);
  const missing = tags.find(tag => !all.includes(tag));
  if (missing === undefined) return found.filter(({ tag }) => tags.includes(tag));
  const near = nearest(missing, all);
  throw new ToolError(
    'no-elements',
    `There is no element <${missing}> here.${near ? ` Did you mean <${near}>?` : ''} There are ${all.map(tag => `<${tag}>`).join(', ')}.`,
    undefined,
    undefined,
    2,
  );
}
