/** The process that replaces a page where there is no browser: a simulated DOM with the page's module. */
import type { PageSettings, Surroundings } from '../../testing/page.ts';
import { installSimulatedDom, loadAxe } from '../simulated-dom.ts';

process.once('message', ({ module, settings }: { module: string; settings: PageSettings }) => {
  installSimulatedDom();
  // Like a page, and unlike a process of Node, it goes on: the runner hears the events.
  process.on('unhandledRejection', (reason, promise) => {
    const event = new Event('unhandledrejection', { cancelable: true });
    globalThis.dispatchEvent(Object.assign(event, { reason, promise }));
  });
  process.on('uncaughtException', error => void reportError(error));
  const surroundings: Surroundings = {
    settings,
    report: message => void process.send?.(message),
    loadAxe,
  };
  Object.assign(globalThis, { [Symbol.for('eltrix.surroundings.1')]: surroundings });
  void import(module);
});
process.send?.('ready');
