/**
 * The files that elements share. The bundler splits shared modules by the elements that import them, and only those
 * elements load them. Modules of the library have no side effects, so they are bundled into few files: those of static
 * elements, those that some of them need further, those that most other elements need, and one for each further entry.
 */
import type { Plugin } from 'vite';
import { runtime } from './declaration.ts';
import { packageOf } from './sizes.ts';

export type CodeSplitting = {
  groups: { name: string; test?: (id: string) => boolean; minShareCount: number; priority: number }[];
};

/** The share of elements from which on the modules that they need are in the file that all load. */
const mostly = 0.6;

const entriesOfLibrary = ['behaviours', 'store', 'context', 'routes', 'views', 'language'];

/** The library's entry that re-exports a module; undefined for other modules. */
function partOfLibrary(id: string): string | undefined {
  if (packageOf(id) !== 'eltrix') return undefined;
  const [, folder = ''] =
    /[\\/](?:production|development|unrendered)[\\/]([\w-]+)(?:\.js$|[\\/])[^\\/]*$/.exec(id) ?? [];
  return entriesOfLibrary.includes(folder) ? folder : 'core';
}

/**
 * The modules of the library that all static elements need, and those that some of them need further: each with the
 * name of the function in compiled code.
 */
const leanModules: readonly (readonly [used: string, modules: RegExp])[] = [
  ['lean', /[\\/](?:element[\\/]lean[\\/](?:lean|expressions)\.|contract[\\/]kinds[\\/])/],
  ['withData', /[\\/](?:element[\\/]lean[\\/]data|signals[\\/]least)\./],
  ['leanList', /[\\/](?:element[\\/]lean[\\/]list|view[\\/](?:keyed-rows|list-differences|moving|span|departing))\./],
  ['leanLive', /[\\/](?:element[\\/]lean[\\/]live|signals[\\/]deep)\./],
  ['withAttributes', /[\\/]element[\\/](?:lean[\\/]attributes|attribute-hook)\./],
  ['withParts', /[\\/]element[\\/](?:lean[\\/]parts|hooks|attribute-hook)\./],
  ['leanContent', /[\\/]element[\\/]lean[\\/]piece\./],
  ['leanSheets', /[\\/]element[\\/]lean[\\/]sheets\./],
];

/** The modules that static elements need, by `leanModules`. */
export type LeanGroups = readonly Set<string>[];

export const emptyGroups = (): LeanGroups => leanModules.map(() => new Set<string>());

/** Finds the modules that static elements share, so that no element loads the modules of others. */
export function leanChunks(lean: LeanGroups): Plugin {
  return {
    name: 'eltrix-lean-chunks',
    buildEnd() {
      for (const group of lean) group.clear();
      const ids = [...this.getModuleIds()];
      const uses = (name: string) =>
        ids.filter(id => this.getModuleInfo(id)?.code?.includes(`${runtime}.${name}(`)).length;
      const all = uses('lean');
      if (all === 0) return;
      for (const [at, [used, modules]] of leanModules.entries()) {
        const count = uses(used);
        if (count === 0) continue;
        // What most of them need is not in a separate file.
        const group = lean[count >= all * mostly ? 0 : at]!;
        const add = (id: string) => {
          if (lean.some(group => group.has(id))) return;
          group.add(id);
          this.getModuleInfo(id)?.importedIds.forEach(add);
        };
        for (const id of ids) if (modules.test(id) && packageOf(id) === 'eltrix') add(id);
      }
    },
  };
}

/** @param count how many elements there are. */
export function sharedFiles(lean: LeanGroups, count: number): CodeSplitting {
  const most = Math.max(2, Math.ceil(count * mostly));
  return {
    groups: [
      ...lean.map(group => ({
        name: 'shared',
        test: (id: string) => group.has(id),
        minShareCount: 2,
        priority: 4,
      })),
      { name: 'shared', test: id => partOfLibrary(id) === 'core', minShareCount: most, priority: 3 },
      ...['core', ...entriesOfLibrary].map(part => ({
        name: 'shared',
        test: (id: string) => partOfLibrary(id) === part,
        minShareCount: 2,
        priority: 2,
      })),
    ],
  };
}
