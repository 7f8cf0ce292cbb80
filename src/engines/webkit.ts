/** WebKitGTK, driven by its own WebDriver under a virtual display where there is none. */
import { type ChildProcess, spawn } from 'node:child_process';
import { existsSync, readdirSync } from 'node:fs';
import { createServer } from 'node:net';
import { join } from 'node:path';
import type { Engine, Session, StartOptions } from './engine.ts';
import { findProgram } from './find.ts';
import { webDriverSession } from './web-driver.ts';

const findDriver = () => findProgram([process.env['ELTRIX_WEBKIT'], 'WebKitWebDriver']);

/** MiniBrowser stands in the library folder of the machine's architecture. */
function findBrowser(): string | undefined {
  if (!existsSync('/usr/lib')) return undefined;
  for (const folder of readdirSync('/usr/lib')) {
    for (const version of ['webkitgtk-6.0', 'webkit2gtk-4.1', 'webkit2gtk-4.0']) {
      const path = join('/usr/lib', folder, version, 'MiniBrowser');
      if (existsSync(path)) return path;
    }
  }
  return undefined;
}

function freePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const server = createServer()
      .once('error', reject)
      .listen(0, '127.0.0.1', () => {
        const { port } = server.address() as { port: number };
        server.close(() => resolve(port));
      });
  });
}

function ended(child: ChildProcess): Promise<void> {
  return new Promise(resolve => {
    if (child.exitCode !== null || child.signalCode !== null) resolve();
    else child.once('exit', () => resolve());
  });
}

async function stop(children: readonly ChildProcess[]): Promise<void> {
  for (const child of children) child.kill('SIGTERM');
  await Promise.all(
    children.map(child => {
      const force = setTimeout(() => child.kill('SIGKILL'), 3000);
      return ended(child).then(() => clearTimeout(force));
    }),
  );
}

/** A display of its own for pictures and focus, unless the machine has one. Returns what to set DISPLAY to. */
function startDisplay(children: ChildProcess[]): Promise<string> {
  return new Promise((resolve, reject) => {
    const program = findProgram(['Xvfb']);
    if (!program)
      return reject(new Error('WebKitGTK needs a display, and there is none. On Debian: apt-get install xvfb.'));
    const child = spawn(program, ['-displayfd', '3', '-screen', '0', '1600x1200x24', '-nolisten', 'tcp'], {
      stdio: ['ignore', 'ignore', 'ignore', 'pipe'],
    });
    children.push(child);
    child.once('exit', () => reject(new Error('Xvfb ended before it said its display.')));
    child.stdio[3]!.once('data', (data: Buffer) => resolve(`:${data.toString().trim()}`));
  });
}

async function start({ pictures = false }: StartOptions = {}): Promise<Session> {
  const { Builder, Capabilities } = await import('selenium-webdriver').then(module => module.default ?? module);
  const children: ChildProcess[] = [];
  const kill = () => {
    for (const child of children) child.kill('SIGKILL');
  };
  process.once('exit', kill);
  try {
    const display = process.env['DISPLAY'] ?? (await startDisplay(children));
    const port = await freePort();
    // Without a screen, pages that are run do not get their frames while layers are composed, and pictures are never ready
    // while they are not.
    const env = { ...process.env, DISPLAY: display, ...(pictures ? {} : { WEBKIT_DISABLE_COMPOSITING_MODE: '1' }) };
    const driverProcess = spawn(findDriver()!, [`--port=${port}`, '--host=127.0.0.1'], { stdio: 'ignore', env });
    children.push(driverProcess);
    await listening(port);
    const capabilities = new Capabilities({
      browserName: 'MiniBrowser',
      'webkitgtk:browserOptions': { binary: findBrowser(), args: ['--automation'] },
    });
    const driver = await new Builder().usingServer(`http://127.0.0.1:${port}`).withCapabilities(capabilities).build();
    const version = (await driver.getCapabilities()).getBrowserVersion() ?? '';
    await driver.manage().setTimeouts({ script: 300_000, pageLoad: 60_000 });
    return webDriverSession(driver, 'webkit', `WebKitGTK ${version}`, async () => {
      await driver.quit().catch(() => {});
      await stop(children);
      process.removeListener('exit', kill);
    });
  } catch (error) {
    await stop(children);
    throw error;
  }
}

async function listening(port: number): Promise<void> {
  for (let tries = 0; tries < 100; tries++) {
    const answer = await fetch(`http://127.0.0.1:${port}/status`).catch(() => null);
    if (answer?.ok) return;
    await new Promise(resolve => setTimeout(resolve, 50));
  }
  throw new Error('WebKitWebDriver did not answer within 5 seconds.');
}

export const webkit: Engine = {
  name: 'webkit',
  install:
    'On Debian: apt-get install webkit2gtk-driver xvfb. Elsewhere there is no WebKit that can be driven without a remote machine.',
  picturesApart: true,
  find: () => findDriver() !== undefined && findBrowser() !== undefined,
  start,
};
