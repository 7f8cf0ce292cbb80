/** A session of any W3C WebDriver server, driven by selenium-webdriver. */
import type { WebDriver } from 'selenium-webdriver';
import { namedKeys } from '../testing/keys.ts';
import type { InputStep } from '../testing/user.ts';
import type { EngineName, OpenOptions, Page, Session } from './engine.ts';

export function webDriverSession(
  driver: WebDriver,
  name: EngineName,
  version: string,
  end: () => Promise<void>,
): Session {
  let first = true;
  /** A window for the next page; `shows` one of the usual size, unless it was emptied. */
  let spare: { readonly handle: string; readonly shows: boolean } | undefined;
  // One window has the focus at a time: commands for several pages take turns.
  let turn: Promise<unknown> = Promise.resolve();
  const inTurn = <T>(handle: string, work: () => Promise<T>): Promise<T> => {
    const result = turn.then(async () => {
      if ((await driver.getWindowHandle().catch(() => '')) !== handle) await driver.switchTo().window(handle);
      return work();
    });
    turn = result.catch(() => {});
    return result;
  };

  async function open(url: string, { viewport = { width: 1280, height: 800 } }: OpenOptions = {}): Promise<Page> {
    const opening = turn.then(async () => {
      const taken = spare;
      spare = undefined;
      if (taken) await driver.switchTo().window(taken.handle);
      else if (!first) await driver.switchTo().newWindow('tab');
      first = false;
      const handle = taken?.handle ?? (await driver.getWindowHandle());
      if (!taken?.shows) await driver.manage().window().setRect(viewport);
      await driver.get(url);
      return handle;
    });
    turn = opening.catch(() => {});
    const handle = await opening;
    return {
      evaluate: expression =>
        inTurn(handle, async () => {
          // The expression is part of the script: the page's policy may forbid eval.
          const script = `const done = arguments[arguments.length - 1];
            (async () => (${expression.trim().replace(/;$/, '')}\n))().then(value => done([null, value]), error => done([String((error && error.message) || error)]));`;
          const [problem, value] = (await driver.executeAsyncScript(script)) as [string | null, never];
          if (problem) throw new Error(problem);
          return value;
        }),
      go: url => inTurn(handle, () => driver.get(url)),
      front: () => inTurn(handle, async () => {}),
      screenshot: () => inTurn(handle, async () => Buffer.from(await driver.takeScreenshot(), 'base64')),
      input: steps => inTurn(handle, () => sendInput(driver, steps)),
      lost: new Promise(() => {}),
      close: (again = false) =>
        inTurn(handle, async () => {
          if (again && !spare) {
            spare = { handle, shows: true };
            return;
          }
          const all = await driver.getAllWindowHandles();
          if (all.length === 1) {
            await driver.get('about:blank');
            spare = { handle, shows: false };
            return;
          }
          await driver.close();
          await driver.switchTo().window(all.find(other => other !== handle)!);
        }),
    };
  }

  return { name, version, takesTurns: true, oneInFront: true, open, close: end };
}

async function sendInput(driver: WebDriver, steps: readonly InputStep[]): Promise<void> {
  const actions = driver.actions({ async: true });
  for (const step of steps) {
    if (step.kind === 'move') actions.move({ x: Math.round(step.x), y: Math.round(step.y), duration: 20 });
    else if (step.kind === 'down') actions.press();
    else if (step.kind === 'up') actions.release();
    else if (step.kind === 'text') actions.sendKeys(step.text);
    else {
      const code = namedKeys[step.key] ?? step.key;
      for (const key of step.holding) actions.keyDown(namedKeys[key] ?? key);
      actions.keyDown(code).keyUp(code);
      for (const key of [...step.holding].reverse()) actions.keyUp(namedKeys[key] ?? key);
    }
  }
  await actions.perform();
}
