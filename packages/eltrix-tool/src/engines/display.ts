import { ToolError } from '../project/tool-error.ts';

/** Whether this machine can open windows. */
export function hasDisplay({ platform, env }: Pick<NodeJS.Process, 'platform' | 'env'> = process): boolean {
  return platform !== 'linux' || Boolean(env['DISPLAY'] || env['WAYLAND_DISPLAY']);
}

/** @throws ToolError if no window can be opened. */
export function needDisplay(option: string): void {
  if (hasDisplay()) return;
  throw new ToolError(
    'no-display',
    `${option} opens a window, and there is no display here (DISPLAY is not set). Run it on a desktop, or under a virtual display: xvfb-run npx eltrix test ${option}.`,
    undefined,
    undefined,
    2,
  );
}
