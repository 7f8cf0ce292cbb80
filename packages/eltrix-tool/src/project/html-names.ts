/** Attributes and events of all HTML elements. */

/** Attributes that every element has (HTML §3.2.6, ARIA). */
export function isGlobal(name: string): boolean {
  return /^(?:data-|aria-|on)/.test(name) || globals.has(name);
}

const globals = new Set(
  'accesskey autocapitalize autocorrect autofocus class contenteditable dir draggable enterkeyhint exportparts hidden id inert inputmode is itemid itemprop itemref itemscope itemtype lang nonce part popover role slot spellcheck style tabindex title translate writingsuggestions'.split(
    ' ',
  ),
);

/** Events of the platform, which an element need not declare. */
export const platformEvents = new Set(
  'abort auxclick beforeinput beforematch beforetoggle blur cancel canplay canplaythrough change click close command contextlost contextmenu contextrestored copy cuechange cut dblclick drag dragend dragenter dragleave dragover dragstart drop durationchange emptied ended error focus focusin focusout formdata input invalid keydown keypress keyup load loadeddata loadedmetadata loadstart mousedown mouseenter mouseleave mousemove mouseout mouseover mouseup paste pause play playing pointercancel pointerdown pointerenter pointerleave pointermove pointerout pointerover pointerup progress ratechange reset resize scroll scrollend securitypolicyviolation seeked seeking select slotchange stalled submit suspend timeupdate toggle touchcancel touchend touchmove touchstart transitionend volumechange waiting wheel animationend animationiteration animationstart transitioncancel transitionrun transitionstart'.split(
    ' ',
  ),
);
