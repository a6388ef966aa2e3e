// What a look at a style tells in the tests of the page. Nothing is drawn there, and no rule of the theme applies; the
// page's own answer goes through every rule of the browser's sheet for every element of every question for a role.

/** Elements that stand on lines of their own: their text is apart from their neighbours' in a name. */
const APART = new Set(
  'ADDRESS ARTICLE ASIDE BLOCKQUOTE BODY BUTTON CAPTION DD DETAILS DIALOG DIV DL DT FIELDSET FIGCAPTION FIGURE FOOTER FORM H1 H2 H3 H4 H5 H6 HEADER HR HTML INPUT LEGEND LI MAIN NAV OL OPTGROUP OPTION P PRE SEARCH SECTION SELECT SUMMARY TABLE TBODY TD TEXTAREA TFOOT TH THEAD TR UL'.split(
    ' ',
  ),
);
const NOT_SHOWN = new Set(['HEAD', 'LINK', 'META', 'NOSCRIPT', 'SCRIPT', 'STYLE', 'TEMPLATE', 'TITLE']);

/** The nearest that says something of an inherited property. @param {any} element @param {string} name */
function inherited(element, name) {
  for (let at = element; at; at = at.parentElement) {
    const said = at.style?.getPropertyValue(name);
    if (said && said !== 'inherit') return said;
  }
  return '';
}

/** @param {any} element @param {string} name */
function valueOf(element, name) {
  const own = element.style?.getPropertyValue(name) ?? '';
  if (name === 'visibility') return inherited(element, name) || 'visible';
  if (name === 'pointer-events') return own || 'auto';
  if (name !== 'display' || own) return own;
  if (element.hasAttribute('hidden') || NOT_SHOWN.has(element.tagName)) return 'none';
  return APART.has(element.tagName) ? 'block' : 'inline';
}

/** `getComputedStyle` by what elements say of themselves. @param {any} element @param {string | null} [pseudo] */
export function quickStyle(element, pseudo) {
  const tell = (/** @type {string} */ name) => (pseudo ? '' : valueOf(element, name));
  return new Proxy(
    { getPropertyValue: tell },
    {
      get: (own, key) =>
        key in own || typeof key === 'symbol'
          ? Reflect.get(own, key)
          : tell(key.replaceAll(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`)),
    },
  );
}
