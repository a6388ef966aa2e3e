import type { Browser } from './browser.ts';

/**
 * Texts of the page that lie over each other, and those that are cut without an ellipsis and their whole words in a
 * title or label. What a frame clips away counts as far as it is seen; bars that stand over the page are held against
 * each other.
 */
export function badTexts(browser: Browser): Promise<string[]> {
  return browser.driver.executeScript<string[]>(`
    const clips = (e) => { const s = getComputedStyle(e); return s.overflowX !== 'visible' || s.overflowY !== 'visible'; };
    const parents = function* (e) { for (let n = e; n && n !== document.body; n = n.parentElement) yield n; };
    const stands = (e) => [...parents(e)].some((n) => /fixed|sticky/.test(getComputedStyle(n).position));
    const hidden = (e) => [...parents(e)].some((n) => getComputedStyle(n).clipPath === 'inset(50%)' || getComputedStyle(n).clip !== 'auto');
    const texts = [];
    const bad = new Set();
    const walk = document.createTreeWalker(document.querySelector('main'), NodeFilter.SHOW_TEXT);
    for (let node; (node = walk.nextNode()); ) {
      const e = node.parentElement;
      const words = node.data.trim();
      if (words === '' || !e || e.closest('svg, option') || !e.checkVisibility({ opacityProperty: true, visibilityProperty: true }) || hidden(e)) continue;
      const frame = { left: -1e9, right: 1e9, top: -1e9, bottom: 1e9 };
      for (const n of parents(e)) {
        if (!clips(n)) continue;
        const r = n.getBoundingClientRect();
        frame.left = Math.max(frame.left, r.left);
        frame.right = Math.min(frame.right, r.right);
        frame.top = Math.max(frame.top, r.top);
        frame.bottom = Math.min(frame.bottom, r.bottom);
      }
      const range = document.createRange();
      range.selectNodeContents(node);
      for (const r of range.getClientRects()) {
        const left = Math.max(r.left, frame.left), right = Math.min(r.right, frame.right);
        const top = Math.max(r.top, frame.top), bottom = Math.min(r.bottom, frame.bottom);
        if (right - left > 2 && bottom - top > 4) texts.push({ left, right, top, bottom, e, words, stands: stands(e) });
      }
      const frameOf = [...parents(e)].slice(0, 3).find((n) => /hidden|clip/.test(getComputedStyle(n).overflowX));
      if (frameOf && frameOf.clientWidth > 2 && frameOf.scrollWidth > frameOf.clientWidth + 1 &&
          (getComputedStyle(frameOf).textOverflow !== 'ellipsis' || !frameOf.closest('[title], [aria-label]')))
        bad.add('cut: ' + frameOf.textContent.slice(0, 60));
    }
    texts.sort((a, b) => a.top - b.top);
    for (let i = 0; i < texts.length; i++)
      for (let j = i + 1; j < texts.length && texts[j].top < texts[i].bottom; j++) {
        const a = texts[i], b = texts[j];
        if (a.e === b.e || a.stands !== b.stands) continue;
        const wide = Math.min(a.right, b.right) - Math.max(a.left, b.left);
        const high = Math.min(a.bottom, b.bottom) - b.top;
        if (wide > 2 && high > 5) bad.add('over each other: ' + a.words.slice(0, 40) + ' | ' + b.words.slice(0, 40));
      }
    return [...bad].slice(0, 10);`);
}
