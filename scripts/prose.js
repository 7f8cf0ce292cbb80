// Words that our prose does not use, and what to write in their place. The check reads README, docs, CHANGELOG and CONTRIBUTING.
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

/** A word or phrase, and what says it plainly. */
const words = [
  [/\bmend(?:s|ed|ing)?\b/i, 'fix'],
  [/\b(?:told|tells?)\b/i, 'reports, logs, notifies or returns'],
  [/\b(?:made|make[s]?) anew\b/i, 'rebuilt, recreated'],
  [/\bgiv(?:e|es|en) back\b/i, 'released, cleaned up'],
  [/\bof other makes\b/i, 'third-party'],
  [/\bby chance\b/i, 'random'],
  [/\bput together\b/i, 'bundle'],
  [/\bweigh(?:s|ed)?\b/i, 'compressed size'],
  [/\bnobody's\b/i, 'a sentence with a subject'],
  [/\bin so many words\b/i, 'explicitly'],
  [/\bholes?\b/i, 'expression'],
  [/\bparked\b/i, 'queued, suspended'],
  [/\bwhatever\b/i, 'a noun'],
  [/\bof its own\b/i, 'its own …'],
  [/\bby itself\b/i, 'a noun, or nothing'],
  [/\b(?:rules?|conditions?) (?:hold|holds)\b/i, 'passes, fails'],
];

/** What a page says, without code, addresses and headings. Lines stay where they are. */
function prose(text) {
  const blank = match => match.replace(/[^\n]/g, ' ');
  return text
    .replace(/^```[^]*?^```/gm, blank)
    .replace(/`[^`\n]*`/g, blank)
    .replace(/\]\([^)]*\)/g, blank)
    .replace(/^#.*$/gm, blank);
}

/** @returns findings of a text, as `file:line  "word": write …`. */
export function proseFindings(file, text) {
  return prose(text)
    .split('\n')
    .flatMap((line, at) =>
      words.flatMap(([word, instead]) => {
        const found = word.exec(line);
        return found ? [`${file}:${at + 1}  "${found[0]}": write ${instead}`] : [];
      }),
    );
}

/** The pages that people read. The API reference is made from sources, performance has its own tables. */
export function prosePages(root) {
  const docs = readdirSync(join(root, 'docs')).filter(
    name => name.endsWith('.md') && !/^(?:api|performance)\.md$/.test(name),
  );
  return ['README.md', 'CHANGELOG.md', 'CONTRIBUTING.md', ...docs.map(name => `docs/${name}`)].filter(name =>
    existsSync(join(root, name)),
  );
}

export const checkProse = root =>
  prosePages(root).flatMap(file => proseFindings(file, readFileSync(join(root, file), 'utf8')));
