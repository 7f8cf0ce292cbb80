// Puts the licence, the changelog and the docs into the packages, for `npm pack`.
import { copyFileSync, existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';

/**
 * @param {string} root the folder of the workspace.
 * @param {string} folder the folder of a package.
 */
export function writePages(root, folder) {
  for (const name of ['LICENSE', 'CHANGELOG.md']) copyFileSync(join(root, name), join(folder, name));
  rmSync(join(folder, 'docs'), { recursive: true, force: true });
  mkdirSync(join(folder, 'docs'));
  const pages = readdirSync(join(root, 'docs')).filter(name => name.endsWith('.md'));
  for (const name of pages) copyFileSync(join(root, 'docs', name), join(folder, 'docs', name));
  for (const name of ['CHANGELOG.md', ...pages.map(page => `docs/${page}`)]) {
    const file = join(folder, name);
    writeFileSync(file, withoutLostLinks(readFileSync(file, 'utf8'), dirname(file)));
  }
}

/** Examples and pictures are not published: a link to one becomes its text, a picture is omitted. */
function withoutLostLinks(text, from) {
  return text
    .replace(/!\[[^\]]*\]\((?!https?:)[^)]*\)\n?/g, '')
    .replace(/\[([^\]]*)\]\((?!https?:|#)([^)#]*)(#[^)]*)?\)/g, (link, words, target) =>
      existsSync(resolve(from, target)) ? link : words,
    );
}
