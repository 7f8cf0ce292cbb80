/** The size of an element's built file with everything that it loads. */
import { bundleElements } from '../compile/bundle.ts';
import { measure } from '../compile/sizes.ts';
import { classNameOf } from '../describe/model.ts';
import type { ElementPlace } from '../project/discover.ts';
import type { ElementSize } from './model.ts';

export async function sizeOf(root: string, element: ElementPlace, target: string): Promise<ElementSize> {
  const { files } = await bundleElements(root, [element], classNameOf, { target, classic: false, sourcemap: false });
  const measured = await measure(files, new Set([element.tag]));
  const own = measured.find(({ role }) => role === 'element')!;
  const loaded = measured.filter(({ file }) => own.loads.includes(file));
  return [own, ...loaded].reduce(({ raw, brotli }, file) => ({ raw: raw + file.raw, brotli: brotli + file.brotli }), {
    raw: 0,
    brotli: 0,
  });
}
