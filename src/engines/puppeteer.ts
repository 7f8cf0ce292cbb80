/** Chromium and Firefox, driven by puppeteer-core. */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Browser, LaunchOptions } from 'puppeteer-core';
import type { Engine, EngineName, Page, Session, Viewport } from './engine.ts';
import { findProgram } from './find.ts';

const defaultViewport: Viewport = { width: 1280, height: 800 };

class PuppeteerSession implements Session {
  constructor(
    readonly name: EngineName,
    readonly browser: Browser,
    readonly version: string,
    readonly profile: string,
  ) {}

  async open(url: string, viewport: Viewport = defaultViewport): Promise<Page> {
    const page = await this.browser.newPage();
    await page.setViewport({ ...viewport });
    await page.goto(url, { waitUntil: 'load' });
    return {
      evaluate: expression => page.evaluate(expression) as never,
      screenshot: () => page.screenshot({ type: 'png' }),
      close: () => page.close(),
    };
  }

  async close(): Promise<void> {
    await this.browser.close();
    rmSync(this.profile, { recursive: true, force: true, maxRetries: 5 });
  }
}

async function start(name: EngineName, options: LaunchOptions): Promise<Session> {
  const { launch } = await import('puppeteer-core').then(module => module.default);
  const profile = mkdtempSync(join(tmpdir(), `eltrix-${name}-`));
  try {
    const browser = await launch({ headless: true, userDataDir: profile, ...options });
    return new PuppeteerSession(name, browser, (await browser.version()).replace('/', ' '), profile);
  } catch (error) {
    rmSync(profile, { recursive: true, force: true, maxRetries: 5 });
    throw error;
  }
}

const findChromium = () =>
  findProgram([
    process.env['ELTRIX_CHROMIUM'],
    'chromium',
    'chromium-browser',
    'google-chrome-stable',
    'google-chrome',
    'microsoft-edge',
    '/Applications/Google Chrome.app/Contents/MacOS/Google Chrome',
    '/Applications/Chromium.app/Contents/MacOS/Chromium',
    'C:\\Program Files\\Google\\Chrome\\Application\\chrome.exe',
  ]);

export const chromium: Engine = {
  name: 'chromium',
  install: 'On Debian: apt-get install chromium. Elsewhere install Chromium or Chrome, or name it in ELTRIX_CHROMIUM.',
  find: () => findChromium() !== undefined,
  start(options = {}) {
    const root = process.getuid?.() === 0;
    return start('chromium', {
      executablePath: findChromium()!,
      args: [
        ...(root ? ['--no-sandbox'] : []),
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--js-flags=--expose-gc',
        ...(options.args ?? []),
      ],
    });
  },
};

const findFirefox = () =>
  findProgram([
    process.env['ELTRIX_FIREFOX'],
    'firefox-esr',
    'firefox',
    '/Applications/Firefox.app/Contents/MacOS/firefox',
    'C:\\Program Files\\Mozilla Firefox\\firefox.exe',
  ]);

export const firefox: Engine = {
  name: 'firefox',
  install: 'On Debian: apt-get install firefox-esr. Elsewhere install Firefox, or name it in ELTRIX_FIREFOX.',
  find: () => findFirefox() !== undefined,
  start: (options = {}) =>
    start('firefox', {
      args: [...(options.args ?? [])],
      browser: 'firefox',
      protocol: 'webDriverBiDi',
      executablePath: findFirefox()!,
    }),
};
