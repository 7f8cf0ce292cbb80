// How long each test file may take, in seconds, from the start of its process to its end. A run fails if a file exceeds
// its budget, so that slow tests are noticed where they are written. Each is about three times what the file takes on two
// processors with another file beside it, so that a busy machine passes.
export const usual = 60;

export const budgets = {
  'test/browser.test.ts': 600,
  'test/check/conformance.test.ts': 900,
  'test/testing/planted.test.ts': 350,
  'test/testing/engines.test.ts': 250,
  'test/gallery/gallery.test.ts': 150,
  'test/project/new.test.ts': 250,
  'test/project/package.test.ts': 200,
  'test/compile/rechunk.test.ts': 150,
  'test/compile/guards.test.ts': 250,
  'test/compile/entries.test.ts': 250,
  'test/compile/random-elements.test.ts': 250,
  'test/project/build.test.ts': 150,
  'test/project/apiary.test.ts': 120,
  'test/compile/outputs.test.ts': 200,
  'test/compile/random-changes.test.ts': 200,
  'test/check/pages.test.ts': 90,
  'test/compile/again.test.ts': 250,
  'test/compile/watching.test.ts': 150,
  'test/compile/xhtml.test.ts': 90,
  'test/compile/layouts.test.ts': 90,
  'test/compile/alike.test.ts': 120,
  'test/compile/random-modules.test.ts': 120,
  'test/project/output.test.ts': 250,
  'test/check/platform.test.ts': 250,
  'test/cli/bad-inputs.test.ts': 400,
  'test/compile/without-graph.test.ts': 90,
  'test/compile/types.test.ts': 90,
  'test/project/application.test.ts': 90,
  'test/server/take-over.test.ts': 150,
  'test/server/random-modules.test.ts': 150,
  'test/server/command.test.ts': 120,
  'test/testing/reports.test.ts': 250,
  'test/testing/open.test.ts': 200,
  'test/testing/stored.test.ts': 150,
  'test/project/hosts.test.ts': 150,
  'test/project/killed.test.ts': 150,
  'test/check/lost.test.ts': 120,
  'test/compile/random-templates.test.ts': 120,
  'test/compile/shared.test.ts': 120,
};

/** Files that drive several engines or pages at once: never two of them at the same time. */
export const alone = [
  'test/browser.test.ts',
  'test/check/conformance.test.ts',
  'test/testing/planted.test.ts',
  'test/testing/engines.test.ts',
  'test/gallery/gallery.test.ts',
  'test/project/application.test.ts',
  'test/server/take-over.test.ts',
  'test/testing/reports.test.ts',
  'test/testing/open.test.ts',
];
