// A page for component tests: jsdom with what browsers have and it lacks.
import { TestEnvironment } from 'jest-environment-jsdom';
import { quickStyle } from './styles.mjs';

export default class PageEnvironment extends TestEnvironment {
  async setup() {
    await super.setup();
    const { window } = this.dom;
    Object.assign(this.global, {
      TextEncoder,
      TextDecoder,
      Headers,
      Response,
      FormData,
      AbortController,
      AbortSignal,
      ReadableStream,
      TransformStream,
      BroadcastChannel,
      structuredClone,
      Uint8Array,
    });
    window.Element.prototype.scrollIntoView = () => {};
    // Sheets made by hand are taken, and do nothing.
    window.CSSStyleSheet.prototype.replaceSync = () => {};
    window.document.adoptedStyleSheets = [];
    // Rules of the theme are not drawn here, and are not read.
    window.HTMLStyleElement.prototype.appendChild = (rule) => rule;
    window.getComputedStyle = quickStyle;
    // Charts find a surface that takes what is drawn and shows nothing.
    const nothing = () => ({ width: 0, actualBoundingBoxAscent: 0, actualBoundingBoxDescent: 0, addColorStop() {} });
    window.HTMLCanvasElement.prototype.getContext = function () {
      return new Proxy({ canvas: this }, { get: (own, key) => (key in own ? own[key] : nothing) });
    };
    this.global.scrollTo = () => {};
    // Nothing is told by itself: tests say what the book answers.
    this.global.EventSource = class {
      addEventListener() {}
      close() {}
    };
    this.global.matchMedia = () => ({ matches: false, addEventListener() {}, removeEventListener() {} });
    this.global.ResizeObserver = class {
      observe() {}
      unobserve() {}
      disconnect() {}
    };
    // React hands its tasks on through one. That of Node.js would keep the run from ending.
    this.global.MessageChannel = class {
      port1 = { onmessage: (/** @type {{ data: unknown }} */ _) => {} };
      port2 = { postMessage: (/** @type {unknown} */ data) => setImmediate(() => this.port1.onmessage({ data })) };
    };
    // An address without its host is one of the page's.
    this.global.Request = class extends Request {
      constructor(input, init) {
        super(typeof input === 'string' ? new URL(input, window.location.href) : input, init);
      }
    };
    this.global.fetch = () => Promise.reject(new TypeError('this test answers no requests'));
  }
}
