// How long each test file may take, in seconds, from the start of its process to its end. A run fails if a file exceeds
// its budget, so that slow tests are noticed where they are written. Each is about three times what the file takes on two
// processors, so that a busy machine passes.
export const usual = 30;

export const budgets = {
  'test/browser.test.ts': 400,
  'test/check/conformance.test.ts': 300,
  'test/testing/planted.test.ts': 200,
  'test/testing/engines.test.ts': 150,
  'test/gallery/gallery.test.ts': 120,
  'test/project/new.test.ts': 100,
  'test/project/package.test.ts': 90,
  'test/compile/rechunk.test.ts': 120,
  'test/compile/guards.test.ts': 90,
  'test/compile/entries.test.ts': 60,
  'test/compile/lean.test.ts': 60,
  'test/project/build.test.ts': 60,
  'test/project/apiary.test.ts': 60,
  'test/compile/outputs.test.ts': 60,
  'test/compile/random-changes.test.ts': 60,
  'test/check/pages.test.ts': 60,
  'test/compile/again.test.ts': 60,
};
