/** What Firefox compiles is given to the next profiles, if they are of the same build. */
import assert from 'node:assert/strict';
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { it } from 'node:test';
import { WarmProfile } from '../../packages/eltrix-tool/src/engines/warm-profile.ts';
import { temporary } from '../support/project.ts';

it('keeps what a browser has compiled, until another build of it ends', { skip: process.platform !== 'linux' }, () => {
  const caches = temporary();
  process.env['XDG_CACHE_HOME'] = caches;
  /** A session: what the profile has at first, and whether the browser's build is the one that is kept. */
  const session = (build: string, program = '/usr/bin/firefox') => {
    const folder = temporary();
    const profile = new WarmProfile(folder, program);
    const given = existsSync(join(folder, 'startupCache/a')) && readFileSync(join(folder, 'startupCache/a'), 'utf8');
    mkdirSync(join(folder, 'startupCache'), { recursive: true });
    writeFileSync(join(folder, 'startupCache/a'), build);
    writeFileSync(join(folder, 'compatibility.ini'), build);
    const { isKept } = profile;
    if (!isKept) profile.keep();
    return [given, isKept];
  };
  assert.deepEqual(session('one'), [false, false]);
  assert.deepEqual(session('one'), ['one', true]);
  assert.deepEqual(session('one', '/opt/firefox'), [false, false]);
  assert.deepEqual(session('two'), ['one', false]);
  assert.deepEqual(session('two'), ['two', true]);
  assert.equal(readdirSync(join(caches, 'eltrix')).length, 2);
  // Without a place for it nothing is kept, and nothing fails.
  writeFileSync(join(caches, 'file'), '');
  process.env['XDG_CACHE_HOME'] = join(caches, 'file');
  assert.deepEqual(session('one'), [false, false]);
  assert.deepEqual(session('one'), [false, false]);
});
