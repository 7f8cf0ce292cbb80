/** Names of HTML elements, and the attributes and events that all of them have. */

/** Attributes that every element has (HTML §3.2.6, ARIA). */
export function isGlobal(name: string): boolean {
  return /^(?:data-|aria-|on)/.test(name) || globals.has(name);
}

const globals = new Set(
  'accesskey autocapitalize autocorrect autofocus class contenteditable dir draggable enterkeyhint exportparts hidden id inert inputmode is itemid itemprop itemref itemscope itemtype lang nonce part popover role slot spellcheck style tabindex title translate writingsuggestions'.split(
    ' ',
  ),
);

/** Elements of HTML (§4) and obsolete ones (§16.2). */
export const htmlElements = new Set(
  'a abbr acronym address applet area article aside audio b base basefont bdi bdo bgsound big blink blockquote body br button canvas caption center cite code col colgroup command content data datalist dd del details dfn dialog dir div dl dt em embed fencedframe fieldset figcaption figure font footer form frame frameset h1 h2 h3 h4 h5 h6 head header hgroup hr html i iframe image img input ins isindex kbd keygen label legend li link listing main map mark marquee math menu menuitem meta meter multicol nav nextid nobr noembed noframes noscript object ol optgroup option output p param permission picture plaintext portal pre progress q rb rbc rp rt rtc ruby s samp script search section select selectedcontent shadow slot small source spacer span strike strong style sub summary sup svg table tbody td template textarea tfoot th thead time title tr track tt u ul var video wbr xmp'.split(
    ' ',
  ),
);

/** Events of the platform, which an element need not declare. */
export const platformEvents = new Set(
  'abort auxclick beforeinput beforematch beforetoggle blur cancel canplay canplaythrough change click close command contextlost contextmenu contextrestored copy cuechange cut dblclick drag dragend dragenter dragleave dragover dragstart drop durationchange emptied ended error focus focusin focusout formdata input invalid keydown keypress keyup load loadeddata loadedmetadata loadstart mousedown mouseenter mouseleave mousemove mouseout mouseover mouseup paste pause play playing pointercancel pointerdown pointerenter pointerleave pointermove pointerout pointerover pointerup progress ratechange reset resize scroll scrollend securitypolicyviolation seeked seeking select slotchange stalled submit suspend timeupdate toggle touchcancel touchend touchmove touchstart transitionend volumechange waiting wheel animationend animationiteration animationstart transitioncancel transitionrun transitionstart'.split(
    ' ',
  ),
);
