/** Sessions of a remote W3C WebDriver server, for many browsers on many machines. */
import { ToolError } from '../project/tool-error.ts';
import type { EngineName, Session } from './engine.ts';
import { webDriverSession } from './web-driver.ts';

/** @throws ToolError if the server does not answer, or does not have the browser. */
export async function startGridSession(url: string, capabilities: Readonly<Record<string, unknown>>): Promise<Session> {
  const { Builder, Capabilities } = await import('selenium-webdriver').then(module => module.default ?? module);
  try {
    const driver = await new Builder()
      .usingServer(url)
      .withCapabilities(new Capabilities({ ...capabilities }))
      .build();
    const given = await driver.getCapabilities();
    await driver.manage().setTimeouts({ script: 300_000, pageLoad: 60_000 });
    const name = given.getBrowserName() ?? 'browser';
    const end = () => driver.quit().catch(() => {});
    return webDriverSession(
      driver,
      engineOf(name),
      `${name} ${given.getBrowserVersion() ?? ''} on ${new URL(url).host}`.trim(),
      end,
    );
  } catch (error) {
    throw new ToolError(
      'grid-session',
      `The WebDriver server ${url} gave no session: ${(error as Error).message.split('\n')[0]}. Look whether it runs, and whether --capabilities names a browser that it has, for example --capabilities '{"browserName":"chrome"}'.`,
    );
  }
}

function engineOf(browserName: string): EngineName {
  if (/firefox/i.test(browserName)) return 'firefox';
  return /safari|minibrowser|webkit/i.test(browserName) ? 'webkit' : 'chromium';
}
