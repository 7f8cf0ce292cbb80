/** Opens the page of a test file: in a browser's session, or in the simulated DOM. */
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
  /** Only lists the tests. */
  readonly list: boolean;
  readonly form: Form;
  readonly coverage: boolean;
  readonly stored: StoredSnapshots;
  /** Whether to take a picture of the page when a test fails. */
  readonly failurePictures: boolean;
  /** Whether another file follows, which may run in the same tab. */
  readonly isFollowed: () => boolean;
  /** Whether each test waits until the tool knows that it runs. */
  readonly careful: boolean;
  hear(message: PageMessage): void;
  /** A test requests a picture; the PNG shows the window. */
  picture(request: PictureRequest, shot: Uint8Array): PictureOutcome;
  /** The window at a failure, as PNG. */
  failurePicture(shot: Uint8Array): void;
}

export interface Opening {
  /** Resolves with the reason when the page is lost. */
  readonly lost: Promise<string>;
  coverage?(): Promise<readonly ScriptCoverage[]>;
  /** @param unchanged whether its tab is like a new one. */
  close(unchanged: boolean): Promise<void>;
}

export interface Opener {
  readonly name: string;
  /** Whether a busy page delivers its earlier messages. */
  readonly deliversWhileBusy: boolean;
  open(visit: Visit): Opening;
}

/** The time after which a page that does not close counts as hanging, in milliseconds. */
const closeTime = 4000;

/**
 * @param takesPictures whether the session can take pictures, see `Engine.picturesApart`.
 * @param session the first session, which identifies the engine.
 * @param waits what a page awaits before its first test, and before it is closed.
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
      let hadInput = false;
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
          // The page may ask before the driver has received its load event.
          while (!page) await new Promise(resolve => setTimeout(resolve, 5));
          if (name === 'input') {
            // The pointer stays where it is, so the next file has another tab, which is opened meanwhile.
            if (!hadInput && visit.isFollowed()) used.prepare?.();
            hadInput = true;
            await page.input(argument as readonly InputStep[]);
          } else if (name === 'wait') await waits?.(argument as 'begin' | 'end');
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
        return used.open(address, { coverage, inFront: true });
      });
      return {
        lost: opening.then(
          given => {
            page = given;
            return given.lost;
          },
          (error: unknown) => (error as Error).message,
        ),
        // The last test may have ended before the driver has received the load event.
        coverage: async () => (await (await opening).coverage?.()) ?? [],
        async close(unchanged) {
          const again = unchanged && !hadInput && !coverage && visit.isFollowed();
          // A page that is still loading must not find its visit.
          visiting.then(
            visit => visit.close(),
            () => {},
          );
          const closing = opening.then(given => given.close(again)).catch(() => {});
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
