import type { Engine, EngineName } from './engine.ts';
import { chromium, firefox } from './puppeteer.ts';
import { webkit } from './webkit.ts';

export type { Engine, EngineName, Page, Session, Viewport } from './engine.ts';
export { type Loaded, loadAlone } from './load-alone.ts';

/** All engines that the tool supports. */
export const engines: Readonly<Record<EngineName, Engine>> = { chromium, firefox, webkit };

/** The installed engines. */
export function foundEngines(): Engine[] {
  return Object.values(engines).filter(engine => engine.find());
}
