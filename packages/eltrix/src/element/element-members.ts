/**
 * The members that every element has in Chromium, Firefox and WebKit, for where there is no DOM to ask: in builds, and on
 * a server.
 */
export const elementMembers: ReadonlySet<string> = new Set(
  `
  ATTRIBUTE_NODE CDATA_SECTION_NODE COMMENT_NODE DOCUMENT_FRAGMENT_NODE DOCUMENT_NODE
  DOCUMENT_POSITION_CONTAINED_BY DOCUMENT_POSITION_CONTAINS DOCUMENT_POSITION_DISCONNECTED
  DOCUMENT_POSITION_FOLLOWING DOCUMENT_POSITION_IMPLEMENTATION_SPECIFIC DOCUMENT_POSITION_PRECEDING
  DOCUMENT_TYPE_NODE ELEMENT_NODE ENTITY_NODE ENTITY_REFERENCE_NODE NOTATION_NODE PROCESSING_INSTRUCTION_NODE
  TEXT_NODE accessKey addEventListener after animate append appendChild assignedSlot attachInternals attachShadow
  attributes autocapitalize autofocus baseURI before blur checkVisibility childElementCount childNodes children
  classList className click clientHeight clientLeft clientTop clientWidth cloneNode closest
  compareDocumentPosition constructor contains contentEditable dataset dir dispatchEvent draggable firstChild
  firstElementChild focus getAnimations getAttribute getAttributeNS getAttributeNames getAttributeNode
  getAttributeNodeNS getBoundingClientRect getClientRects getElementsByClassName getElementsByTagName
  getElementsByTagNameNS getHTML getRootNode hasAttribute hasAttributeNS hasAttributes hasChildNodes
  hasOwnProperty hasPointerCapture hidden hidePopover id inert innerHTML innerText inputMode insertAdjacentElement
  insertAdjacentHTML insertAdjacentText insertBefore isConnected isContentEditable isDefaultNamespace isEqualNode
  isPrototypeOf isSameNode lang lastChild lastElementChild localName lookupNamespaceURI lookupPrefix matches
  namespaceURI nextElementSibling nextSibling nodeName nodeType nodeValue nonce normalize offsetHeight offsetLeft
  offsetParent offsetTop offsetWidth outerHTML outerText ownerDocument parentElement parentNode part popover
  prefix prepend previousElementSibling previousSibling propertyIsEnumerable querySelector querySelectorAll
  releasePointerCapture remove removeAttribute removeAttributeNS removeAttributeNode removeChild
  removeEventListener replaceChild replaceChildren replaceWith requestFullscreen requestPointerLock scroll
  scrollBy scrollHeight scrollIntoView scrollLeft scrollTo scrollTop scrollWidth setAttribute setAttributeNS
  setAttributeNode setAttributeNodeNS setHTMLUnsafe setPointerCapture shadowRoot showPopover slot spellcheck style
  tabIndex tagName textContent title toLocaleString toString toggleAttribute togglePopover translate valueOf
  webkitMatchesSelector
  onabort onanimationcancel onanimationend onanimationiteration onanimationstart onauxclick onbeforeinput
  onbeforematch onbeforetoggle onblur oncancel oncanplay oncanplaythrough onchange onclick onclose
  oncontentvisibilityautostatechange oncontextmenu oncopy oncuechange oncut ondblclick ondrag ondragend
  ondragenter ondragleave ondragover ondragstart ondrop ondurationchange onemptied onended onerror onfocus
  onformdata onfullscreenchange onfullscreenerror ongotpointercapture oninput oninvalid onkeydown onkeypress
  onkeyup onload onloadeddata onloadedmetadata onloadstart onlostpointercapture onmousedown onmouseenter
  onmouseleave onmousemove onmouseout onmouseover onmouseup onpaste onpause onplay onplaying onpointercancel
  onpointerdown onpointerenter onpointerleave onpointermove onpointerout onpointerover onpointerup onprogress
  onratechange onreset onresize onscroll onsecuritypolicyviolation onseeked onseeking onselect onselectionchange
  onselectstart onslotchange onstalled onsubmit onsuspend ontimeupdate ontoggle ontransitioncancel ontransitionend
  ontransitionrun ontransitionstart onvolumechange onwaiting onwebkitanimationend onwebkitanimationiteration
  onwebkitanimationstart onwebkittransitionend onwheel
  `
    .trim()
    .split(/\s+/),
);
