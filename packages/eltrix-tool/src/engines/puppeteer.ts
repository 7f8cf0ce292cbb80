/** Chromium and Firefox, driven by puppeteer-core. */
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Browser, CDPSession, KeyInput, LaunchOptions, Page as PuppeteerPage } from 'puppeteer-core';
import { temporaryFolder } from '../project/held.ts';
import { ToolError } from '../project/tool-error.ts';
import type { InputStep } from '../testing/user.ts';
import type { Engine, EngineName, OpenOptions, Page, ScriptCoverage, Session, Viewport } from './engine.ts';
import { findProgram } from './find.ts';
import { WarmProfile } from './warm-profile.ts';

const pause = (ms: number) => new Promise<void>(resolve => setTimeout(resolve, ms).unref());

const defaultViewport: Viewport = { width: 1280, height: 800 };

/** A tab, which may show one page after the other. */
interface Tab {
  readonly page: PuppeteerPage;
  /** Chromium's protocol. */
  readonly client: CDPSession | undefined;
  /** Resolves with the reason when it is lost. */
  readonly lost: Promise<string>;
  /** Whether it was closed, is lost, or is to be closed. */
  gone: boolean;
  /** Whether it has its size, and has shown a page. */
  used: boolean;
}

/** The time after which a page that another one should replace is asked whether it keeps its tab, in milliseconds. */
const replaceTime = 3000;
/** How long a page may take to load in place of another one, in milliseconds. */
const loadTime = 15_000;

class PuppeteerSession implements Session {
  readonly takesTurns = false;
  readonly oneInFront: boolean;

  constructor(
    readonly name: EngineName,
    readonly browser: Browser,
    readonly version: string,
    readonly window: boolean,
    readonly end: () => Promise<void>,
  ) {
    this.oneInFront = name === 'firefox';
  }

  /** One page is in front at a time, so input for several pages takes turns. */
  #turn: Promise<unknown> = Promise.resolve();

  async open(url: string, options: OpenOptions = {}): Promise<Page> {
    let tab = await (options.inFront ? this.#takeSpare() : this.#newTab());
    while (!(await this.#show(tab, url, options))) {
      await Promise.race([this.#close(tab).catch(() => {}), pause(replaceTime)]);
      tab = await this.#takeSpare();
    }
    const { page, client } = tab;
    return {
      evaluate: expression => page.evaluate(expression) as never,
      async go(url) {
        await page.goto(url, { waitUntil: 'load' });
      },
      front: () => page.bringToFront(),
      screenshot: () => page.screenshot({ type: 'png' }),
      input: steps => {
        const done = this.#turn.then(() => sendInput(page, steps));
        this.#turn = done.catch(() => {});
        return done;
      },
      lost: tab.lost,
      ...(options.coverage && client
        ? {
            async coverage(): Promise<readonly ScriptCoverage[]> {
              return (await client.send('Profiler.takePreciseCoverage')).result;
            },
          }
        : {}),
      close: async (again = false) => {
        if (again && !tab.gone) this.#spares.push(Promise.resolve(tab));
        else await this.#close(tab);
      },
    };
  }

  /** @returns whether the URL is shown: the page that a tab has shown before may prevent that it is left. */
  async #show(
    tab: Tab,
    url: string,
    { viewport = defaultViewport, coverage = false, inFront = false }: OpenOptions,
  ): Promise<boolean> {
    const { page, client } = tab;
    // Firefox gives a tab in the background half a second to take another size.
    if (inFront && this.oneInFront) await page.bringToFront();
    if (tab.used) return replacePage(tab, url);
    tab.used = true;
    // A visible window has the size that its user chooses.
    if (!this.window) await page.setViewport({ ...viewport });
    // Each of several pages behaves like the page in front.
    await client?.send('Emulation.setFocusEmulationEnabled', { enabled: true });
    if (coverage && client) {
      // V8's protocol is used directly: a helper that also fetches the scripts may miss a late script.
      await client.send('Profiler.enable');
      await client.send('Profiler.startPreciseCoverage', { callCount: true, detailed: true });
    }
    await page.goto(url, { waitUntil: 'load' });
    return true;
  }

  #close(tab: Tab): Promise<void> {
    tab.gone = true;
    return this.#inTurn(() => tab.page.close());
  }

  /**
   * Firefox may lose a tab that is being opened while another is closed: they take turns, and a lost tab is opened
   * again.
   */
  #tabs: Promise<unknown> = Promise.resolve();

  #inTurn<T>(work: () => Promise<T>): Promise<T> {
    if (this.name !== 'firefox') return work();
    const done = this.#tabs.then(work);
    // A tab that never opens does not block the others.
    this.#tabs = Promise.race([done.catch(() => {}), pause(3000)]);
    return done;
  }

  /** Tabs for the next pages: new ones, or such that have shown a page. */
  #spares: Promise<Tab | undefined>[] = [];

  prepare(): void {
    // A page that has ended may still do something.
    this.#spares = this.#spares.map(async spare => {
      const tab = await spare;
      if (!tab || tab.gone || !tab.used || (await replacePage(tab, 'about:blank'))) return tab;
      return void this.#close(tab).catch(() => {});
    });
    if (this.#spares.length === 0) this.#spares.push(this.#newTab(true).catch(() => undefined));
  }

  async #takeSpare(): Promise<Tab> {
    for (let taken = this.#spares.shift(); taken; taken = this.#spares.shift()) {
      const tab = await taken;
      if (tab && !tab.gone) return tab;
    }
    return this.#newTab(true);
  }

  async #newTab(inFront = false): Promise<Tab> {
    const page = await this.#newPage(inFront);
    const lost = new Promise<string>(resolve => {
      const lose = (reason: string) => {
        if (!tab.gone) resolve(reason);
        tab.gone = true;
      };
      page.once('error', error => lose(`the page crashed (${error.message})`));
      page.once('close', () => lose('the page was closed'));
      this.browser.once('disconnected', () => lose(`${this.name} ended`));
    });
    const client = this.name === 'chromium' ? await page.createCDPSession() : undefined;
    const tab: Tab = { page, client, lost, gone: false, used: false };
    return tab;
  }

  /**
   * A tab in the background is hidden and has no frames; a separate window is visible. But a window that opens takes
   * the focus from the page that has it, and a tab in the background does not.
   */
  #newPage(inFront = false): Promise<PuppeteerPage> {
    const background = inFront && this.oneInFront;
    const type = background || this.window ? 'tab' : 'window';
    return this.#inTurn(async () => {
      for (let tries = 0; ; tries++) {
        try {
          return await this.browser.newPage({ type, background });
        } catch (error) {
          if (tries === 5 || !this.browser.connected) throw error;
          await pause(50 * 2 ** tries);
        }
      }
    });
  }

  close(): Promise<void> {
    return this.end();
  }
}

/**
 * Shows another page in a tab, as in a new one: the page before is neither in the session history nor the referrer.
 * Waits for its load event.
 * @returns whether it is shown: a page can prevent that it is left.
 */
async function replacePage({ page, client }: Tab, url: string): Promise<boolean> {
  const waits = { waitUntil: 'load', timeout: loadTime } as const;
  let loading: Promise<unknown>;
  if (client) loading = client.send('Page.resetNavigationHistory').then(() => page.goto(url, waits));
  else {
    loading = page.waitForNavigation(waits);
    // The answer is lost with the page.
    page.evaluate(leave, url).catch(() => {});
  }
  const loaded = loading.then(
    () => client !== undefined || page.url() === url,
    () => false,
  );
  for (;;) {
    const isShown = await Promise.race([loaded, pause(replaceTime)]);
    if (typeof isShown === 'boolean') return isShown;
    // A page that loads slowly may run at any time: it is not given up while it is there.
    const address = page.evaluate(() => location.href).catch(() => url);
    const there = await Promise.race([loaded, address, pause(replaceTime)]);
    if (typeof there === 'string' && there !== url) return false;
  }
}

/** Runs in the page. */
function leave(url: string): void {
  const meta = document.createElement('meta');
  meta.name = 'referrer';
  meta.content = 'no-referrer';
  (document.head ?? document.documentElement ?? document.appendChild(document.createElement('html'))).append(meta);
  // Listeners that keep the page are not called.
  const stop = (event: Event) => event.stopImmediatePropagation();
  addEventListener('beforeunload', stop, true);
  (globalThis as { navigation?: EventTarget }).navigation?.addEventListener('navigate', stop, true);
  location.replace(url);
}

async function sendInput(page: PuppeteerPage, steps: readonly InputStep[]): Promise<void> {
  await page.bringToFront();
  const { mouse, keyboard } = page;
  let held = false;
  for (const step of steps) {
    // While a button is held the engine may be dragging, which takes time.
    if (held) await pause(20);
    if (step.kind === 'move') await mouse.move(step.x, step.y, { steps: held ? 4 : 1 });
    else if (step.kind === 'down') {
      held = true;
      await mouse.down();
    } else if (step.kind === 'up') {
      held = false;
      await mouse.up();
    } else if (step.kind === 'text') await keyboard.type(step.text);
    else {
      for (const key of step.holding) await keyboard.down(key as KeyInput);
      // Keys that the driver's keyboard does not have are typed.
      await keyboard.press(step.key as KeyInput).catch(() => keyboard.sendCharacter(step.key));
      for (const key of [...step.holding].reverse()) await keyboard.up(key as KeyInput);
    }
  }
}

async function start(name: EngineName, options: LaunchOptions, window = false): Promise<Session> {
  const { launch } = await import('puppeteer-core').then(module => module.default);
  // The browser ends with the tool, also during its start, and its profile is removed.
  const profile = temporaryFolder(name, true);
  const warm = name === 'firefox' ? new WarmProfile(profile.folder, options.executablePath!) : undefined;
  if (name === 'firefox' && !window) hideControls(profile.folder);
  try {
    const browser = await launch({
      headless: !window,
      userDataDir: profile.folder,
      // `open` sets the size of each page.
      defaultViewport: null,
      // Messages about each request take a tenth of the time of a page.
      networkEnabled: false,
      ...options,
    });
    const version = (await browser.version())
      .replace('/', ' ')
      .replace(/^Headless/, '')
      .replace(/^f/, 'F');
    return new PuppeteerSession(name, browser, version, window, async () => {
      // A browser that does not answer is ended with its processes.
      // Firefox takes a second to save a profile that is removed then.
      if (warm?.isKept) browser.process()?.kill('SIGKILL');
      else await Promise.race([browser.close().catch(() => {}), pause(10_000)]);
      if (warm && !warm.isKept && !browser.connected) warm.keep();
      profile.remove();
    });
  } catch (error) {
    profile.remove();
    throw error;
  }
}

/** A Firefox without a window would still draw tabs and address for each page. */
function hideControls(profile: string): void {
  mkdirSync(join(profile, 'chrome'), { recursive: true });
  writeFileSync(join(profile, 'chrome/userChrome.css'), '#navigator-toolbox { display: none !important }');
}

/** @param window whether it shows a window: the variant that cannot starts faster. */
const findChromium = (window = false) =>
  findProgram([
    process.env['ELTRIX_CHROMIUM'],
    ...(window ? [] : ['chromium-headless-shell']),
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
    const args = [
      ...(root ? ['--no-sandbox'] : []),
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      '--js-flags=--expose-gc',
      ...(options.args ?? []),
    ];
    const devtools = options.developerTools ?? false;
    const executablePath = findChromium(options.window);
    if (!executablePath)
      throw new ToolError(
        'no-window',
        `A window is needed, and only the Chromium without windows was found. ${chromium.install}`,
      );
    return start('chromium', { executablePath, args, devtools }, options.window);
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
  start(options = {}) {
    const args = [...(options.developerTools ? ['--devtools'] : []), ...(options.args ?? [])];
    return start(
      'firefox',
      {
        args,
        browser: 'firefox',
        protocol: 'webDriverBiDi',
        executablePath: findFirefox()!,
        extraPrefsFirefox: {
          // Looking for add-ons takes a quarter of the start.
          'extensions.enabledScopes': 0,
          // It would write each page to its database.
          'places.history.enabled': false,
          // See `hideControls`.
          'toolkit.legacyUserProfileCustomizations.stylesheets': true,
        },
      },
      options.window,
    );
  },
};
