/** The modules that a module imports, followed as far as a name leads. */
import { dirname, join } from 'node:path';
import { type ReadModules, readNoted } from '../project/passed-names.ts';
import { resolveSource } from '../project/resolve-source.ts';
import { type ParsedModule, parseModule } from '../project/syntax.ts';
import { ModuleTypes } from './module-types.ts';
import { ModuleValues } from './module-values.ts';

export interface SourceModule {
  readonly types: ModuleTypes;
  readonly values: ModuleValues;
}

/** An imported module; undefined if it cannot be read. */
export type FollowModules = (specifier: string) => SourceModule | undefined;

export const sourceModule = (parsed: ParsedModule, follow: FollowModules): SourceModule => ({
  types: new ModuleTypes(parsed.program, specifier => follow(specifier)?.types),
  values: new ModuleValues(parsed, specifier => follow(specifier)?.values),
});

/**
 * Follows the relative imports of a module.
 * @param file its absolute path.
 * @param read receives the modules that were read.
 */
export function modulesFrom(file: string, read: ReadModules): FollowModules {
  const found = new Map<string, SourceModule | undefined>();
  const open = (specifier: string) => {
    const path = specifier.startsWith('.') ? resolveSource(join(dirname(file), specifier)) : undefined;
    const parsed = path === undefined ? null : parseModule(path, readNoted(path, read));
    return parsed ? sourceModule(parsed, modulesFrom(path!, read)) : undefined;
  };
  return specifier => {
    if (!found.has(specifier)) found.set(specifier, open(specifier));
    return found.get(specifier);
  };
}
