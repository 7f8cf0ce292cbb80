/** Optional peer dependencies of the tool, loaded when they are used. */
import { existsSync, readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { toolFile } from './library.ts';
import { ToolError } from './tool-error.ts';

export type OptionalPackage = 'jsdom' | 'selenium-webdriver';

export function isInstalled(name: OptionalPackage): boolean {
  try {
    createRequire(import.meta.url).resolve(name);
    return true;
  } catch {
    return false;
  }
}

/** The command that adds a package to the project in the current folder. */
export function addCommand(name: OptionalPackage): string {
  const { peerDependencies } = JSON.parse(readFileSync(toolFile('package.json'), 'utf8')) as {
    peerDependencies: Readonly<Record<OptionalPackage, string>>;
  };
  const has = (file: string) => existsSync(join(process.cwd(), file));
  const command = has('pnpm-lock.yaml')
    ? 'pnpm add --save-dev'
    : has('yarn.lock')
      ? 'yarn add --dev'
      : 'npm install --save-dev';
  return `${command} "${name}@${peerDependencies[name]}"`;
}

/** @throws ToolError with the command to type if the package is not installed. */
export function needPackage(name: OptionalPackage, purpose: string): void {
  if (isInstalled(name)) return;
  throw new ToolError(
    'package-missing',
    `${purpose} needs the package ${name}, which is not installed. Add it: ${addCommand(name)}`,
    undefined,
    undefined,
    2,
  );
}
