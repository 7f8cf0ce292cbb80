/** For configuration files: `eltrix.config.ts`. */
import type { Configuration } from './project/config-options.ts';

export { type Bytes, type Configuration, configurationSchema } from './project/config-options.ts';

/**
 * Gives a configuration its type, and returns it unchanged.
 *
 * @example
 * import { defineConfig } from 'eltrix-tool/config';
 * export default defineConfig({ source: 'elements', budget: '3 kB' });
 */
export function defineConfig(configuration: Configuration): Configuration {
  return configuration;
}
