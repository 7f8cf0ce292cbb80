// Words that we do not write, and what to write in their place: in README, docs, CHANGELOG and CONTRIBUTING, and in the
// comments and messages of all sources.
import { execFileSync } from 'node:child_process';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';

const { parseSync, Visitor } = createRequire(createRequire(import.meta.url).resolve('vite'))('rolldown/utils');

/** A word or phrase, and what says it plainly. */
const words = [
  [/\bmend(?:s|ed|ing)?\b/i, 'fix'],
  [/\b(?:told|tells?)\b/i, 'reports, logs, notifies or returns'],
  [/\b(?:made|make[s]?|made it) anew\b/i, 'rebuilt, recreated'],
  [/\bgiv(?:e|es|en) back\b/i, 'released, cleaned up'],
  [/\bof other makes\b/i, 'third-party'],
  [/\bby chance\b/i, 'random'],
  [/\bput together\b/i, 'bundle'],

  [/\bnobody\b/i, 'a sentence with a subject'],
  [/\bin so many words\b/i, 'explicitly'],
  [/(?<!-)\bholes?\b(?!-)/i, 'expression'],
  [/\bparked\b/i, 'queued, suspended'],
  [/\bwhatever\b/i, 'a noun'],
  [/\bof (?:its|their) own\b/i, 'its own …, a separate …'],
  [/\bby itself\b/i, 'a noun, or nothing'],
  [/\b(?:rules?|conditions?) (?:hold|holds)\b/i, 'passes, fails'],
  [/\bstands? (?:in|inside|beside|outside|under|around|where)\b/i, 'is in, is inside …'],
  [/\bgraph of readings\b/i, 'dependency tracking, dependency graph'],
  [/\blooks? again\b/i, 'runs again, is evaluated again'],
  [/\bma(?:ke|de|kes) small\b/i, 'minify, compress'],
  [/\bwho(?:ever)? (?:reads|asks|listens|follows)\b/i, 'a subscriber, a caller, a listener'],
];

/** @returns findings of a text without code, as `file:line  "word": write …`. */
function findings(file, text, firstLine = 1) {
  return text.split('\n').flatMap((line, at) =>
    words.flatMap(([word, instead]) => {
      const found = word.exec(line);
      return found ? [`${file}:${firstLine + at}  "${found[0]}": write ${instead}`] : [];
    }),
  );
}

const blank = match => match.replace(/[^\n]/g, ' ');
const withoutCode = text => text.replace(/`[^`\n]*`/g, blank);

/** Findings of a page: not in code, addresses and headings. */
export function proseFindings(file, text) {
  const prose = withoutCode(text.replace(/^```[^]*?^```/gm, blank))
    .replace(/\]\([^)]*\)/g, blank)
    .replace(/^#.*$/gm, blank);
  return findings(file, prose);
}

/** Findings of a source: in its comments, and in texts of several words. */
export function sourceFindings(file, code) {
  const lineOf = offset => code.slice(0, offset).split('\n').length;
  const { program, comments } = parseSync(file, code);
  const texts = comments.map(({ value, start }) => ({ value: withoutCode(value), start }));
  const put = (value, start) => /\S \S/.test(value) && texts.push({ value, start });
  new Visitor({
    Literal: ({ value, start }) => typeof value === 'string' && put(value, start),
    TemplateElement: ({ value, start }) => put(value.raw.replace(/\\n/g, '  '), start),
  }).visit(program);
  return texts.flatMap(({ value, start }) => findings(file, value, lineOf(start)));
}

/** The pages that people read. The API reference is made from sources, performance has its own tables. */
function pages(root) {
  const docs = readdirSync(join(root, 'docs')).filter(
    name => name.endsWith('.md') && !/^(?:api|performance)\.md$/.test(name),
  );
  return [
    'README.md',
    'CHANGELOG.md',
    'CONTRIBUTING.md',
    'ARCHITECTURE.md',
    ...docs.map(name => `docs/${name}`),
  ].filter(name => existsSync(join(root, name)));
}

function sources(root) {
  const files = execFileSync('git', ['ls-files', 'packages/*/src/**', 'scripts', 'examples'], {
    cwd: root,
    encoding: 'utf8',
  });
  return files
    .split('\n')
    .filter(file => /\.(?:ts|js)$/.test(file) && !file.includes('/widgets/') && file !== 'scripts/prose.js')
    .filter(file => existsSync(join(root, file)));
}

export function checkProse(root) {
  const read = file => readFileSync(join(root, file), 'utf8');
  return [
    ...pages(root).flatMap(file => proseFindings(file, read(file))),
    ...sources(root).flatMap(file => sourceFindings(file, read(file))),
  ];
}
