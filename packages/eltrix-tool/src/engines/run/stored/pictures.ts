/** The pictures of a run, compared with the accepted ones: `pictures/<engine>/<test file>/<name>.png`. */
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import pixelmatch from 'pixelmatch';
import { PNG } from 'pngjs';
import type { PictureOutcome, PictureRequest, Rect } from '../../../testing/picture.ts';

/** A picture for a report. */
export interface Attachment {
  readonly name: string;
  /** PNG, as base64. */
  readonly png: string;
}

/**
 * Colours count as equal if they differ by less, from 0 to 1, as pixelmatch measures it: about three levels of grey.
 */
const threshold = 0.02;

/** The folder of a run's pictures that differ. */
const differing = 'node_modules/.eltrix/pictures';

/** The result of a comparison: for a test, and in parts for other reports. */
export interface Compared extends PictureOutcome {
  /** The difference, and what to do. */
  readonly seen?: string;
  readonly fix?: string;
  readonly attachments: readonly Attachment[];
}

const problem = (code: string, seen: string, fix: string) => ({ problem: `(${code}): ${seen}. ${fix}`, seen, fix });

export class Pictures {
  /** The requested pictures, by engine. */
  readonly #used = new Map<string, Set<string>>();
  /** By engine: how many differ from pictures of another version of the engine. */
  readonly #ofOtherVersion = new Map<string, { readonly before: string; readonly now: string; count: number }>();
  #accepted = 0;

  constructor(
    readonly root: string,
    readonly accept: boolean,
    /** The command that accepts pictures. */
    readonly command = 'npx eltrix test',
  ) {}

  /**
   * @param shot the window, as PNG.
   * @returns the answer for the test, and pictures for the report.
   */
  compare(
    engine: { readonly name: string; readonly version: string },
    file: string,
    request: PictureRequest,
    shot: Uint8Array,
  ): Compared {
    const folder = file.replace(/\.test\.[cm]?[jt]sx?$/, '');
    const name = `${folder}/${request.name.replace(/[^\p{L}\p{N} ._-]/gu, '-')}.png`;
    let used = this.#used.get(engine.name);
    if (!used) this.#used.set(engine.name, (used = new Set()));
    used.add(name);
    const actual = cut(PNG.sync.read(Buffer.from(shot)), request);
    const path = join(this.root, 'pictures', engine.name, name);
    const shown = `pictures/${engine.name}/${name}`;
    const bytes = PNG.sync.write(actual);
    const expected = existsSync(path) ? PNG.sync.read(readFileSync(path)) : undefined;
    const { count, drawn } = expected ? difference(expected, actual) : { count: Number.POSITIVE_INFINITY };
    const isAlike = count <= request.tolerance * actual.width * actual.height;
    if (this.accept) {
      if (!isAlike) {
        write(path, bytes);
        this.#accepted++;
      }
      write(this.#versionFile(engine.name), `${JSON.stringify({ version: engine.version })}\n`);
    }
    if (isAlike || this.accept) return { attachments: [] };
    write(join(this.root, differing, engine.name, name), bytes);
    const look = `Look at ${differing}/${engine.name}/${name}, and accept it: ${this.command} --accept`;
    if (!expected)
      return {
        ...problem('picture-missing', `No picture is accepted yet: ${shown}`, look),
        attachments: [{ name: 'taken', png: bytes.toString('base64') }],
      };
    const attachments = [
      { name: 'accepted', png: readFileSync(path).toString('base64') },
      { name: 'taken', png: bytes.toString('base64') },
      ...(drawn ? [{ name: 'difference', png: PNG.sync.write(drawn).toString('base64') }] : []),
    ];
    const before = this.#versionOf(engine.name);
    if (before !== undefined && before !== engine.version) {
      const of = this.#ofOtherVersion.get(engine.name);
      if (of) of.count++;
      else this.#ofOtherVersion.set(engine.name, { before, now: engine.version, count: 1 });
      return { note: `(picture-version): ${shown} was accepted with ${before} and differs.`, attachments };
    }
    const size = ({ width, height }: PNG) => `${width} by ${height}`;
    const what = drawn
      ? `${count} of ${actual.width * actual.height} pixels differ from ${shown}`
      : `It is ${size(actual)} pixels, and ${shown} is ${size(expected)}`;
    return { ...problem('picture-differs', what, look), attachments };
  }

  /** A failure that concerns all pictures of an engine, reported once. */
  problemOf(engine: string): string | undefined {
    const of = this.#ofOtherVersion.get(engine);
    if (!of) return undefined;
    const { before, now, count } = of;
    return `(picture-version): ${count} picture${count === 1 ? ' differs' : 's differ'} from those that were accepted with ${before}; this is ${now}. Look at them in a report, and accept them: ${this.command} --accept`;
  }

  /** @param complete the test files whose tests all ran. */
  notes(complete: readonly string[]): string[] {
    const notes = this.#accepted > 0 ? [`${this.#accepted} picture${this.#accepted === 1 ? '' : 's'} accepted.`] : [];
    const folders = complete.map(file => `${file.replace(/\.test\.[cm]?[jt]sx?$/, '')}/`);
    for (const [engine, used] of this.#used) {
      const folder = join(this.root, 'pictures', engine);
      const present = existsSync(folder) ? (readdirSync(folder, { recursive: true }) as string[]) : [];
      for (const path of present.map(path => path.replaceAll('\\', '/')).sort())
        if (path.endsWith('.png') && !used.has(path) && folders.some(folder => path.startsWith(folder)))
          notes.push(`pictures/${engine}/${path} is not used. Delete it if no test needs it.`);
    }
    return notes;
  }

  #versionFile = (engine: string) => join(this.root, 'pictures', engine, 'engine.json');

  #versionOf(engine: string): string | undefined {
    try {
      return (JSON.parse(readFileSync(this.#versionFile(engine), 'utf8')) as { version?: string }).version;
    } catch {
      return undefined;
    }
  }
}

function write(path: string, content: Uint8Array | string): void {
  mkdirSync(dirname(path), { recursive: true });
  writeFileSync(path, content);
}

/** The requested part of a picture, with masked parts in one colour. */
function cut(window: PNG, { rect, mask, scale }: PictureRequest): PNG {
  const device = ({ x, y, width, height }: Rect) => {
    const [left, top] = [Math.floor(x * scale), Math.floor(y * scale)];
    return { left, top, width: Math.ceil((x + width) * scale) - left, height: Math.ceil((y + height) * scale) - top };
  };
  const { left, top, width, height } = device(rect);
  const size = [Math.min(width, window.width - left), Math.min(height, window.height - top)] as const;
  const part = new PNG({ width: size[0], height: size[1] });
  PNG.bitblt(window, part, left, top, ...size, 0, 0);
  for (const covered of mask.map(device)) {
    const from = { x: Math.max(0, covered.left - left), y: Math.max(0, covered.top - top) };
    const to = { x: covered.left - left + covered.width, y: covered.top - top + covered.height };
    for (let y = from.y; y < Math.min(to.y, part.height); y++)
      for (let x = from.x; x < Math.min(to.x, part.width); x++)
        part.data.set([255, 0, 255, 255], (y * part.width + x) * 4);
  }
  return part;
}

function difference(expected: PNG, actual: PNG): { count: number; drawn?: PNG } {
  const { width, height } = expected;
  if (width !== actual.width || height !== actual.height) return { count: Number.POSITIVE_INFINITY };
  const drawn = new PNG({ width, height });
  const count = pixelmatch(expected.data, actual.data, drawn.data, width, height, { threshold });
  return { count, drawn };
}
