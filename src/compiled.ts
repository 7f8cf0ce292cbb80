/** For compiled code only: what `eltrix build` and the Vite plugin write imports from here. Not for authors; it changes with them. */
export { choiceRule as choice, plainChoiceRule as plainChoice } from './contract/kinds/choice.ts';
export { clampedRule as clamped } from './contract/kinds/clamped.ts';
export { customRule as custom } from './contract/kinds/custom.ts';
export { decimalRule as decimal } from './contract/kinds/decimal.ts';
export { flagRule as flag } from './contract/kinds/flag.ts';
export { integerRule as integer } from './contract/kinds/integer.ts';
export { jsonRule as json } from './contract/kinds/json.ts';
export { nonNegativeRule as nonNegative } from './contract/kinds/non-negative.ts';
export { positiveRule as positive } from './contract/kinds/positive.ts';
export { positiveDecimalRule as positiveDecimal } from './contract/kinds/positive-decimal.ts';
export { plainText, textRule as text } from './contract/kinds/text.ts';
export { tokensRule as tokens } from './contract/kinds/tokens.ts';
export { unsignedRule as unsigned } from './contract/kinds/unsigned.ts';
export { urlRule as url } from './contract/kinds/url.ts';
export { able } from './element/abilities.ts';
export { sheetsAbility } from './element/adopt.ts';
export { builtInBase } from './element/base.ts';
export { BuiltSheet } from './element/built-sheet.ts';
export { attribute, data, element, keptAttribute, live, liveAttribute } from './element/compiled.ts';
export { attributeAbility } from './element/early.ts';
export { formAbility } from './element/form.ts';
export { hooksAbility } from './element/hooks.ts';
export {
  hole as leanHole,
  listen as leanListen,
  refuseScript,
  styles as leanStyles,
} from './element/lean/holes.ts';
export { lean } from './element/lean/lean.ts';
export { lightAbility } from './element/light.ts';
export { emitAbility, internalsAbility, moveAbility, plainEmitAbility, statesAbility } from './element/members.ts';
export { loadOnDemand } from './element/on-demand.ts';
export { unreflectedAbility } from './element/reflect.ts';
export { rootAbility } from './element/root.ts';
export { scopeAbility } from './element/scope.ts';
export { slotsAbility } from './element/slots.ts';
export { stylesheet } from './element/styles.ts';
export {
  bindAttribute,
  bindAttributeText,
  bindGuardedAttribute,
  bindGuardedAttributeText,
  showClass,
  showPlain,
  showPrefixed,
  showStyle,
  showValue,
} from './view/attribute.ts';
export { classText } from './view/class-text.ts';
export { foreignTemplate, piece, template } from './view/compiled.ts';
export { bindContent } from './view/content.ts';
export { bindAttached, bindElement, bindFieldProperty, bindProperty, bindRecord } from './view/element-hole.ts';
export { bindFunction, bindListener } from './view/listener.ts';
export { bindStaticStyle, bindText, textBinder as bindTextOnly } from './view/text-hole.ts';
