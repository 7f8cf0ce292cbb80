/** For `import sheet from './hive-card.css' with { type: 'css' }`: put "eltrix/css" into "types" of tsconfig.json. */
declare module '*.css' {
  const sheet: CSSStyleSheet;
  export default sheet;
}
