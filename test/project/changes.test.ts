/** Files that are saved again at once. */
import assert from 'node:assert/strict';
import { EventEmitter } from 'node:events';
import { readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { it } from 'node:test';
import { setTimeout as wait } from 'node:timers/promises';
import { watch } from 'chokidar';
import { onChanges } from '../../packages/eltrix-tool/src/project/changes.ts';
import { temporary } from '../support/project.ts';

it('reports a file that is saved while it is being reported', async () => {
  const root = temporary();
  const file = join(root, 'a.txt');
  writeFileSync(file, '0');
  const watcher = watch(root, { ignoreInitial: true });
  await new Promise<void>(resolve => watcher.on('ready', resolve));
  const read: string[] = [];
  onChanges(watcher, root, (event, path) => {
    read.push(`${event} ${path === file ? 'a' : path} ${readFileSync(path, 'utf8')}`);
    // As an editor does that formats what it saved.
    if (read.length < 3) setTimeout(() => writeFileSync(file, String(read.length)), 10);
  });
  try {
    writeFileSync(file, 'x');
    for (let times = 0; times < 300 && read.length < 3; times++) await wait(10);
    await wait(200);
    assert.deepEqual(read, ['change a x', 'change a 1', 'change a 2']);
  } finally {
    await watcher.close();
  }
});

it('ignores temporary files of editors', async () => {
  const root = temporary();
  const file = join(root, 'a.txt');
  writeFileSync(file, '0');
  const watcher = watch(root, { ignoreInitial: true });
  await new Promise<void>(resolve => watcher.on('ready', resolve));
  const told: string[] = [];
  onChanges(watcher, root, (event, path) => told.push(`${event} ${path.slice(root.length + 1)}`));
  try {
    for (const [text, beside] of ['sedx7b', '4913', 'a.txt~', 'a.txt.swp'].entries()) {
      writeFileSync(join(root, beside), String(text));
      await wait(60);
      renameSync(join(root, beside), file);
      await wait(300);
    }
    // A slow machine may tell of one saving twice.
    assert.deepEqual([...new Set(told)], ['change a.txt']);
    assert.ok(told.length >= 4, told.join());
  } finally {
    await watcher.close();
  }
});

it('reports a file that has its earlier content again, since what was between may have been read', async () => {
  const root = temporary();
  const file = join(root, 'a.txt');
  const watcher = new EventEmitter();
  const read: string[] = [];
  onChanges(watcher, root, (_, path) => read.push(readFileSync(path, 'utf8')));
  for (const text of ['a', 'b', 'a']) {
    // The watcher is late, and has one report for the last two.
    writeFileSync(file, text);
    await wait(10);
    if (read.length === 0 || text === 'a') watcher.emit('all', 'change', file);
  }
  watcher.emit('all', 'change', file);
  assert.deepEqual(read, ['a', 'a']);
});
