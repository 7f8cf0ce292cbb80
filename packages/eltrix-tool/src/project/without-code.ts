/** A message of the library without its code: `(tag-name): …`. */
export const withoutCode = (message: string): string => message.replace(/^\([a-z-]+\): /, '');
