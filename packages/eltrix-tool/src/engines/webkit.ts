/** WebKitGTK, driven by WebKitWebDriver, with a virtual display if necessary. */
import { type ChildProcess, type SpawnOptions, spawn } from 'node:child_process';
import { existsSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { hold } from '../project/held.ts';
import { addCommand, isInstalled } from '../project/optional-package.ts';
import type { Engine, Session, StartOptions } from './engine.ts';
import { findProgram } from './find.ts';
import { listeningPort } from './listening-port.ts';
import { webDriverSession } from './web-driver.ts';

const findDriver = () => findProgram([process.env['ELTRIX_WEBKIT'], 'WebKitWebDriver']);

/** On a busy display a page may count as hidden; WebKit then runs its timers once a second. */
const unhindered = '-HiddenPageDOMTimerThrottling,-DOMTimersThrottling,-HiddenPageCSSAnimationSuspension';

/** MiniBrowser is in the library folder of the machine's architecture. */
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

/** Started processes, with functions that end them at once. */
export type Children = Map<ChildProcess, () => void>;

function ended(child: ChildProcess): Promise<void> {
  return new Promise(resolve => {
    if (child.exitCode !== null || child.signalCode !== null) resolve();
    else child.once('exit', () => resolve());
  });
}

/** A process and its descendants. */
function startProcess(
  children: Children,
  program: string,
  args: readonly string[],
  options: SpawnOptions,
): ChildProcess {
  const child = spawn(program, args, options);
  if (child.pid !== undefined) children.set(child, hold({ process: child.pid }));
  return child;
}

async function stop(children: Children): Promise<void> {
  for (const child of children.keys()) child.kill('SIGTERM');
  await Promise.all(
    [...children].map(([child, end]) => {
      const force = setTimeout(end, 3000);
      return ended(child).then(() => {
        clearTimeout(force);
        end();
      });
    }),
  );
}

/** A separate display for pictures and focus, unless the machine has one. @returns the value of DISPLAY. */
export function startDisplay(children: Children): Promise<string> {
  return new Promise((resolve, reject) => {
    const program = findProgram(['Xvfb']);
    if (!program)
      return reject(new Error('WebKitGTK needs a display, and there is none. On Debian: apt-get install xvfb.'));
    const args = ['-displayfd', '3', '-screen', '0', '1600x1200x24', '-nolisten', 'tcp'];
    const child = startProcess(children, program, args, { stdio: ['ignore', 'ignore', 'ignore', 'pipe'] });
    child.once('exit', () => reject(new Error('Xvfb ended before it said its display.')));
    child.stdio[3]!.once('data', (data: Buffer) => resolve(`:${data.toString().trim()}`));
  });
}

/** Starts WebKitWebDriver on a port that the system chooses. */
function startDriver(children: Children, env: NodeJS.ProcessEnv): Promise<number> {
  const args = ['--port=0', '--host=127.0.0.1'];
  const driver = startProcess(children, findDriver()!, args, { stdio: ['ignore', 'ignore', 'pipe'], env });
  let printed = '';
  driver.stderr!.on('data', data => {
    printed = (printed + data).slice(-2000);
  });
  return listeningPort(driver, 'WebKitWebDriver', () => printed);
}

async function start({ pictures = false }: StartOptions = {}): Promise<Session> {
  const { Builder, Capabilities } = await import('selenium-webdriver').then(module => module.default ?? module);
  const children: Children = new Map();
  try {
    const display = process.env['DISPLAY'] ?? (await startDisplay(children));
    // Without a screen, pages get no frames while layers are composited, and pictures are never ready while they are
    // not.
    const env = {
      ...process.env,
      DISPLAY: display,
      ...(pictures ? {} : { WEBKIT_DISABLE_COMPOSITING_MODE: '1' }),
    };
    const port = await startDriver(children, env);
    const capabilities = new Capabilities({
      browserName: 'MiniBrowser',
      'webkitgtk:browserOptions': { binary: findBrowser(), args: ['--automation', `--features=${unhindered}`] },
    });
    const driver = await new Builder().usingServer(`http://127.0.0.1:${port}`).withCapabilities(capabilities).build();
    const version = (await driver.getCapabilities()).getBrowserVersion() ?? '';
    await driver.manage().setTimeouts({ script: 300_000, pageLoad: 60_000 });
    return webDriverSession(driver, 'webkit', `WebKitGTK ${version}`, async () => {
      // The driver of a page that hangs does not answer.
      await Promise.race([driver.quit().catch(() => {}), pause(3000, undefined, { ref: false })]);
      await stop(children);
    });
  } catch (error) {
    await stop(children);
    throw error;
  }
}

export const webkit: Engine = {
  name: 'webkit',
  get install() {
    return findDriver() && findBrowser()
      ? `It is driven by the package selenium-webdriver. Add it: ${addCommand('selenium-webdriver')}`
      : 'On Debian: apt-get install webkit2gtk-driver xvfb. Elsewhere there is no WebKit that can be driven without a remote machine.';
  },
  picturesApart: true,
  find: () => findDriver() !== undefined && findBrowser() !== undefined && isInstalled('selenium-webdriver'),
  start,
};
