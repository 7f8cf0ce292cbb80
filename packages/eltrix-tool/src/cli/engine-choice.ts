import { type Engine, type EngineName, engines, foundEngines } from '../engines/index.ts';
import { nearest } from '../project/nearest.ts';
import { ToolError } from '../project/tool-error.ts';

/**
 * The engines of `--in`, or all installed ones.
 * @param also further names that the command accepts.
 * @throws ToolError for an unknown name, and for an engine that is not installed.
 */
export function enginesFor(names: string | undefined, also: readonly string[] = []): (Engine | string)[] {
  if (names === undefined) return foundEngines();
  const given = names.split(',').map(name => name.trim());
  return given.map(name => {
    if (also.includes(name)) return name;
    const engine = engines[name as EngineName];
    const known = [...Object.keys(engines), ...also];
    if (!engine) {
      const near = nearest(name, known);
      throw new ToolError(
        'engine-unknown',
        `"${name}" is not an engine.${near ? ` Did you mean "${near}"?` : ''} There are ${known.join(', ')}.`,
        undefined,
        undefined,
        2,
      );
    }
    if (!engine.find())
      throw new ToolError('engine-missing', `${name} is not installed. ${engine.install}`, undefined, undefined, 2);
    return engine;
  });
}
