/** The user's browser with the page of tests: its frame shows the pages of a run. */
import type { Opener } from '../engines/run/opener.ts';
import type { TestServer } from '../engines/run/server.ts';

/** The engine of a browser, from its user agent (RFC 9110 §10.1.5); others have the name `reader`. */
export function engineOf(userAgent = ''): string {
  if (/\bFirefox\//.test(userAgent)) return 'firefox';
  if (/\bChrome\/|\bChromium\//.test(userAgent)) return 'chromium';
  return /\bAppleWebKit\//.test(userAgent) ? 'webkit' : 'reader';
}

/** @param show shows a URL in the frame. */
export function readerOpener(server: TestServer, engine: () => string, show: (address: string) => void): Opener {
  let shown: { close(): void } | undefined;
  return {
    name: 'reader',
    deliversWhileBusy: true,
    open({ module, plan, list, form, stored, hear }) {
      // The page of the last file stays until another one replaces it, so that it can be inspected.
      shown?.close();
      shown = undefined;
      let closed = false;
      const attended = { failurePictures: false, careful: false, driven: false, watched: true, waits: false };
      const environment = { engine: engine(), ...form };
      void server
        .open({
          settings: { plan, list, environment, stored, ...attended },
          module,
          hear: message => void (closed || hear(message)),
          command: name => Promise.reject(new Error(`"${name}" needs a driver. Run it with npx eltrix test.`)),
        })
        .then(visit => {
          shown = visit;
          if (!closed) show(visit.address);
        });
      return {
        lost: new Promise(() => {}),
        async close() {
          closed = true;
        },
      };
    },
  };
}
