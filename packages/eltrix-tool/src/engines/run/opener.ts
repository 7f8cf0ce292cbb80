/** What opens the page of a test file: a browser's session, or the simulated DOM. */
import type { Form } from '../../testing/host.ts';
import type { PageMessage } from '../../testing/page.ts';
import type { PictureOutcome, PictureRequest } from '../../testing/picture.ts';
import type { RunPlan, StoredSnapshots } from '../../testing/plan.ts';
import type { InputStep } from '../../testing/user.ts';
import type { Page, ScriptCoverage, Session } from '../engine.ts';
import type { Sessions } from '../sessions.ts';
import type { SimulatedEngine } from '../simulated.ts';
import type { TestServer } from './server.ts';

export interface Visit {
  /** The page's module among the bundled files. */
  readonly module: string;
  readonly plan: RunPlan;
  /** Only says which tests there are. */
  readonly list: boolean;
  readonly form: Form;
  readonly coverage: boolean;
  readonly stored: StoredSnapshots;
  /** Whether a picture of the page is taken when a test fails. */
  readonly failurePictures: boolean;
  /** Whether each test waits until it is known that it runs. */
  readonly careful: boolean;
  hear(message: PageMessage): void;
  /** A test asks for a picture; the PNG shows the window. */
  picture(request: PictureRequest, shot: Uint8Array): PictureOutcome;
  /** The window when a test failed, as PNG. */
  failurePicture(shot: Uint8Array): void;
}

export interface Opening {
  /** Resolves with the reason when the page is gone without being closed. */
  readonly lost: Promise<string>;
  coverage?(): Promise<readonly ScriptCoverage[]>;
  close(): Promise<void>;
}

export interface Opener {
  readonly name: string;
  /** Whether a page that is busy delivers what it has said before. */
  readonly deliversWhileBusy: boolean;
  open(visit: Visit): Opening;
}

/** After so many milliseconds a page that does not close is hanging. */
const closeTime = 4000;

/**
 * @param takesPictures whether the session can, see `Engine.picturesApart`.
 * @param session the first of the sessions: it says what the engine is.
 * @param waits what a page waits for before its first test, and before it is closed.
 */
export function browserOpener(
  sessions: Sessions,
  session: Session,
  server: TestServer,
  takesPictures: boolean,
  waits?: (when: 'begin' | 'end') => Promise<void>,
): Opener {
  return {
    name: session.name,
    deliversWhileBusy: session.name !== 'webkit',
    open(visit) {
      const { module, plan, list, form, coverage, stored, hear } = visit;
      let page: Page | undefined;
      const visiting = server.open({
        settings: {
          plan,
          list,
          environment: { engine: session.name, ...form },
          stored,
          failurePictures: visit.failurePictures && takesPictures,
          careful: visit.careful,
          driven: true,
          watched: waits !== undefined,
          waits: waits !== undefined,
        },
        module,
        hear,
        async command(name, argument) {
          // The page may ask before its load event has reached the driver.
          while (!page) await new Promise(resolve => setTimeout(resolve, 5));
          if (name === 'input') await page.input(argument as readonly InputStep[]);
          else if (name === 'wait') await waits?.(argument as 'begin' | 'end');
          else if (name === 'failure-picture') visit.failurePicture(await page.screenshot());
          else if (name === 'picture') {
            if (takesPictures) return visit.picture(argument as PictureRequest, await page.screenshot());
            return {
              note: `(picture-missing): ${session.version} takes no pictures while it runs tests. npx eltrix check --pictures takes them there.`,
            } satisfies PictureOutcome;
          } else throw new Error(`"${name}" is not a command.`);
          return null;
        },
      });
      let used = session;
      const opening = visiting.then(async ({ address }) => {
        used = await sessions.current;
        return used.open(address, { coverage });
      });
      return {
        lost: opening.then(
          given => {
            page = given;
            return given.lost;
          },
          (error: unknown) => (error as Error).message,
        ),
        // The last test may have ended before the load event has reached the driver.
        coverage: async () => (await (await opening).coverage?.()) ?? [],
        async close() {
          // A page that is still coming must not find its visit.
          visiting.then(
            visit => visit.close(),
            () => {},
          );
          const closing = opening.then(given => given.close()).catch(() => {});
          let late: ReturnType<typeof setTimeout> | undefined;
          const hangs = new Promise<true>(resolve => {
            late = setTimeout(resolve, closeTime, true);
          });
          if ((await Promise.race([closing, hangs])) === true && used.takesTurns) await sessions.replace(used);
          clearTimeout(late);
        },
      };
    },
  };
}

export function simulatedOpener(engine: SimulatedEngine): Opener {
  return {
    name: 'simulated',
    deliversWhileBusy: true,
    open({ module, plan, list, form, stored, hear }) {
      const environment = { engine: 'simulated', ...form, project: '/' };
      const attended = { failurePictures: false, careful: false, driven: false, watched: false, waits: false };
      const settings = { base: '/', run: '', environment, plan, list, stored, ...attended };
      return engine.open(module, settings, hear);
    },
  };
}
