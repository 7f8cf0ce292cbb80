/** The elements of packages among a project's dependencies that contain a manifest. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { readPackage } from '../../project/config.ts';
import { type Vocabulary, vocabularyOfManifest } from './vocabulary.ts';

/** `customElements` in package.json refers to it; unreadable manifests are ignored. */
export function packageVocabulary(root: string): Vocabulary {
  const { resolve } = createRequire(join(root, 'package.json'));
  const all = readPackage(root);
  const names = ['dependencies', 'devDependencies', 'peerDependencies'].flatMap(key => Object.keys(all[key] ?? {}));
  const found = new Map<string, ReturnType<Vocabulary['get']> & object>();
  for (const name of new Set(names)) {
    try {
      const folder = dirname(packageFile(resolve, name));
      const { customElements } = JSON.parse(readFileSync(join(folder, 'package.json'), 'utf8')) as {
        customElements?: unknown;
      };
      if (typeof customElements !== 'string') continue;
      const manifest = readFileSync(join(folder, customElements), 'utf8');
      for (const [tag, element] of vocabularyOfManifest(manifest, customElements)) found.set(tag, element);
    } catch {
      // The package is not installed, or its manifest is invalid: its elements are not checked.
    }
  }
  return found;
}

/** A package need not export its package.json. */
function packageFile(resolve: NodeJS.RequireResolve, name: string): string {
  for (const folder of resolve.paths(name) ?? []) {
    const file = join(folder, name, 'package.json');
    try {
      readFileSync(file);
      return file;
    } catch {
      // It may be in a folder further up.
    }
  }
  return resolve(`${name}/package.json`);
}
