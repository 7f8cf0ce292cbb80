/** What Vite knows of the modules that it has served: which elements run them, and by which addresses. */
import { join } from 'node:path';
import type { EnvironmentModuleNode, ViteDevServer } from 'vite';
import { addressOf, elementAddress, prefix } from '../compile/element-modules.ts';
import type { FoundElement } from '../project/discover.ts';

/** The elements whose frames run a file: what leads to it among what has been served. */
export function affected(vite: ViteDevServer, path: string): string[] {
  const tags = new Set<string>();
  const seen = new Set<EnvironmentModuleNode>();
  const waiting = [...(vite.environments.client.moduleGraph.getModulesByFile(path) ?? [])];
  for (let module = waiting.pop(); module; module = waiting.pop()) {
    if (seen.has(module)) continue;
    seen.add(module);
    const address = addressOf(module.id ?? '');
    const tag = address && /^(?:elements\/([^/]+)\.js|specimens\/([^/]+)\/)/.exec(address);
    if (tag) tags.add(tag[1] ?? tag[2]!);
    waiting.push(...module.importers);
  }
  return [...tags];
}

/** Has modules, and those that import them, made again, under other addresses where they are imported. */
export function outdate(vite: ViteDevServer, modules: Iterable<EnvironmentModuleNode>): void {
  const { moduleGraph } = vite.environments.client;
  const [outdated, moved] = [new Set<EnvironmentModuleNode>(), new Set<EnvironmentModuleNode>()];
  for (const module of modules) {
    // This drops what is being made of the module, too; only the other call changes its address.
    moduleGraph.invalidateModule(module, outdated);
    moduleGraph.invalidateModule(module, moved, undefined, true);
  }
}

/** The modules that an element's definition is known to load, those that others import after those others. */
export function moduleUrls(vite: ViteDevServer, tag: string): string[] {
  const { moduleGraph } = vite.environments.client;
  const urls = new Set<string>();
  const waiting = [...(moduleGraph.urlToModuleMap.get(prefix + elementAddress(tag))?.importedModules ?? [])];
  for (let module = waiting.pop(); module; module = waiting.pop()) {
    const url = freshUrl(module);
    if (urls.has(url) || module.type !== 'js') continue;
    urls.add(url);
    waiting.push(...module.importedModules);
  }
  return [...urls];
}

/** As Vite has it where others import the module. */
function freshUrl({ url, lastHMRTimestamp: time }: EnvironmentModuleNode): string {
  return time > 0 ? `${url}${url.includes('?') ? '&' : '?'}t=${time}` : url;
}

/** The address of the module that has an element's class, once it has been served. */
export function definitionOf(vite: ViteDevServer, root: string, element: FoundElement | undefined): string | undefined {
  if (!element) return undefined;
  const entry = vite.environments.client.moduleGraph.urlToModuleMap.get(prefix + elementAddress(element.tag));
  const found = [...(entry?.importedModules ?? [])].find(({ file }) => file === join(root, element.file));
  return found && freshUrl(found);
}
