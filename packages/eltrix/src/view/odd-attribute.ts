/** Development: attributes that other template languages and scripts have, and HTML has not. */

const properties: Readonly<Record<string, string>> = {
  classname: 'Write class=${…}.',
  htmlfor: 'Write for=${…}.',
  textcontent: 'Put the expression between the tags.',
  innertext: 'Put the expression between the tags.',
};

/**
 * What to write in place of an attribute; undefined if it may be meant as it is.
 * @param name in any case.
 */
export function insteadOfAttribute(name: string, tag: string): string | undefined {
  const [, sign, rest = ''] = /^(@|on[:-]|\.|\?|:|\[|\()(.+?)[\])]*$/i.exec(name) ?? [];
  switch (sign?.toLowerCase()) {
    case '@':
    case 'on:':
    case 'on-':
    case '(':
      return `For a listener write on${rest.replace(/[.:].*$/, '')}=\${…}.`;
    case '.':
    case '[':
      return `For a property write <${tag} \${{ ${rest}: … }}>.`;
    case '?':
      return `Write ${rest}=\${…}: true adds the attribute, false removes it.`;
    case ':':
      return `Write ${rest}=\${…}.`;
  }
  return tag.includes('-') ? undefined : properties[name.toLowerCase()];
}
