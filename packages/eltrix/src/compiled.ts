/** Imported by the output of `eltrix build` and of the Vite plugin. Not a public API. */
export { choiceRule, plainChoiceRule } from './contract/kinds/choice.ts';
export { clampedRule } from './contract/kinds/clamped.ts';
export { customRule } from './contract/kinds/custom.ts';
export { decimalRule } from './contract/kinds/decimal.ts';
export { flagRule } from './contract/kinds/flag.ts';
export { integerRule } from './contract/kinds/integer.ts';
export { jsonRule } from './contract/kinds/json.ts';
export { nonNegativeRule } from './contract/kinds/non-negative.ts';
export { positiveRule } from './contract/kinds/positive.ts';
export { positiveDecimalRule } from './contract/kinds/positive-decimal.ts';
export { plainText, textRule } from './contract/kinds/text.ts';
export { tokensRule } from './contract/kinds/tokens.ts';
export { unsignedRule } from './contract/kinds/unsigned.ts';
export { urlRule } from './contract/kinds/url.ts';
export { attributePart } from './element/attribute-hook.ts';
export { builtInBase } from './element/base.ts';
export { boundPart } from './element/bound.ts';
export { BuiltSheet } from './element/built-sheet.ts';
export { attribute, data, element, elementFrom, keptAttribute, live, liveAttribute } from './element/compiled.ts';
export { formPart } from './element/form.ts';
export { hooksPart, scopePart } from './element/hooks.ts';
export { withAttributes } from './element/lean/attributes.ts';
export { followed, withData } from './element/lean/data.ts';
export { leanExpression, leanListen, leanProperty, leanStyles, refuseScript } from './element/lean/expressions.ts';
export { lean } from './element/lean/lean.ts';
export { leanList } from './element/lean/list.ts';
export { leanLive } from './element/lean/live.ts';
export { withParts } from './element/lean/parts.ts';
export { leanContent } from './element/lean/piece.ts';
export { leanSheets } from './element/lean/sheets.ts';
export { lightPart } from './element/light.ts';
export { emitPart, internalsPart, movePart, plainEmitPart, statesPart } from './element/members.ts';
export { loadOnDemand } from './element/on-demand.ts';
export { addParts } from './element/part.ts';
export { propertyPart } from './element/property-hook.ts';
export { rootPart } from './element/root.ts';
export { scopeEffectPart, scopeMeasurePart } from './element/scope-effects.ts';
export {
  scopeAfterPart,
  scopeEveryPart,
  scopeFramePart,
  scopeOnPart,
  scopeSignalPart,
  scopeUsePart,
} from './element/scope-members.ts';
export { sheetText } from './element/sheet-text.ts';
export { sheetsPart } from './element/sheets.ts';
export { slotsPart } from './element/slots.ts';
export { stylesheet } from './element/styles.ts';
export { asText } from './view/as-text.ts';
export {
  bindAttribute,
  bindAttributeText,
  bindDeepAttribute,
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
export { bindAttached, bindElement, bindFieldProperty, bindProperty, bindRecord } from './view/element-expression.ts';
export { bindFunction, bindListener } from './view/listener.ts';
export { bindPlaced } from './view/placeable.ts';
export { bindStaticStyle, bindText, textBinder } from './view/text-expression.ts';
