/** The demonstration: its own tests in every engine, and what `npm start -- --once` says that it made. */
import assert from 'node:assert/strict';
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { describe, it } from 'node:test';
import { engines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { eltrix, repository } from '../support/project.ts';

const found = Object.values(engines).filter(engine => engine.find());

describe('the apiary', () => {
  it('passes its own tests', { skip: found.length === 0 && 'no engine is installed' }, () => {
    const { status, stdout } = eltrix(join(repository, 'examples/apiary'), 'test');
    assert.equal(status, 0, stdout);
    assert.equal(stdout.match(/✔ audits well/g)?.length, found.length * 2);
  });

  it('builds and prints with npm start -- --once', { skip: !engines.chromium.find() && 'no Chromium' }, () => {
    const { status, stdout, stderr } = spawnSync(process.execPath, ['scripts/start.js', '--once'], {
      cwd: repository,
      encoding: 'utf8',
    });
    assert.equal(status, 0, stderr);
    assert.match(stdout, /^hive-card\.js +[\d.]+ kB +[\d.]+ kB/m);
    assert.match(stdout, /\/: 4 hive cards\n {4}Rosemary: /);
    assert.match(stdout, /\/plain\.html: \d hive cards/);
  });
});
