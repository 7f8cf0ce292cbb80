/** The rule `pictures`: each specimen looks like its accepted picture, in four settings. */
import type { Engine, Page, Session } from '../../engines/index.ts';
import type { Pictures } from '../../engines/run/stored/pictures.ts';
import type { Failure, RuleResult, Shown } from '../page/model.ts';
import type { CheckServer } from './server.ts';
import type { Subject } from './subject.ts';
import { firstLine, lookOrWait, within } from './visitor.ts';

/** A setting: the query of the page's URL, and the width of the window in CSS pixels. */
const circumstances = [
  { name: 'light', query: {}, width: 800 },
  { name: 'dark', query: { scheme: 'dark' }, width: 800 },
  { name: 'right to left', query: { rtl: '' }, width: 800 },
  { name: '400 px', query: {}, width: 400 },
] as const;

/**
 * @param timeout how long to wait for a picture, in milliseconds.
 * @returns the result of each element, by tag.
 */
export async function comparePictures(
  engine: Engine,
  running: Session,
  server: CheckServer,
  subjects: readonly Subject[],
  pictures: Pictures,
  timeout: number,
): Promise<Map<string, RuleResult>> {
  const session = engine.picturesApart ? await engine.start({ pictures: true }) : running;
  try {
    return await compareIn(session, server, subjects, pictures, timeout);
  } finally {
    if (session !== running) await session.close();
  }
}

async function compareIn(
  session: Session,
  server: CheckServer,
  subjects: readonly Subject[],
  pictures: Pictures,
  timeout: number,
): Promise<Map<string, RuleResult>> {
  const failures = new Map<string, Failure[]>(subjects.map(({ description }) => [description.tag, []]));
  for (const { name, query, width } of circumstances) {
    let page: Page | undefined;
    for (const { description, specimens } of subjects)
      for (const [at, { title }] of specimens.entries()) {
        const { tag } = description;
        const address = `${server.base}picture?${new URLSearchParams({ tag, at: String(at), ...query })}`;
        if (page) await page.go(address);
        else page = await session.open(address, { viewport: { width, height: 600 } });
        const did = `took a picture of "${title}" (${name})`;
        const taken = await take(page, timeout).catch((error: unknown) => firstLine(error));
        if (typeof taken !== 'object') {
          const seen = taken ?? `none within ${timeout / 1000} s`;
          failures.get(tag)!.push({ did, expected: 'a picture', seen, fix: lookOrWait(timeout) });
          continue;
        }
        const { shown, shot } = taken;
        const { scale, ...size } = shown;
        const request = { name: `${title} ${name}`, rect: { x: 0, y: 0, ...size }, mask: [], tolerance: 0, scale };
        const of = { name: session.name, version: session.version };
        const { problem, seen = '', fix = '', attachments } = pictures.compare(of, folderOf(tag), request, shot);
        if (problem) failures.get(tag)!.push({ did, expected: 'what was accepted', seen, fix, pictures: attachments });
      }
    await page?.close();
  }
  return new Map(
    [...failures].map(([tag, failed]) => [
      tag,
      failed.length > 0
        ? { rule: 'pictures', outcome: 'fails', failures: failed }
        : { rule: 'pictures', outcome: 'passes' },
    ]),
  );
}

/** @returns the specimen's place in a page, and a picture of the page; undefined after a time limit. */
async function take(page: Page, timeout: number): Promise<{ shown: Shown; shot: Uint8Array } | undefined> {
  const shown = await within(timeout, page.evaluate<Shown>('globalThis.eltrixShown'));
  const shot = shown && (await within(timeout, page.screenshot()));
  return shot && { shown, shot };
}

/** The folder of an element's pictures. */
export const folderOf = (tag: string): string => `specimens/${tag}`;
