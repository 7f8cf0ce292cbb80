import { axeFile, toolFile } from '../project/library.ts';

/** The path of a file of the gallery's own page. */
export function pageFile(name: string): string {
  return name === 'axe.js' ? axeFile() : toolFile(`dist/gallery/${name}`);
}
