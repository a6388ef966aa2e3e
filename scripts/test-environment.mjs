// What tests without a page run in: Jest's environment of Node.js on a plain global object. Its own goes through a proxy
// for every `Math`, `Object` and `Map` that code speaks of, which took a third of the time of all computation.
import { createContext, constants, runInContext } from 'node:vm';
import { TestEnvironment } from 'jest-environment-node';

export default class QuickEnvironment extends TestEnvironment {
  /** @param {any} config @param {any} context */
  constructor(config, context) {
    super(config, context);
    const slow = this.global;
    this.context = createContext(constants.DONT_CONTEXTIFY);
    /** @type {any} */
    const global = runInContext('globalThis', this.context);
    // All that Node.js and Jest add to the language, each read when it is first asked for.
    for (const key of Reflect.ownKeys(slow)) {
      if (Object.hasOwn(global, key)) continue;
      Object.defineProperty(global, key, {
        configurable: true,
        enumerable: Object.getOwnPropertyDescriptor(slow, key)?.enumerable,
        get: () => plain(global, key, slow[key]),
        set: (value) => {
          plain(global, key, value);
        },
      });
    }
    global.global = global;
    // One for the buffers of both sides, as in Jest's own.
    global.ArrayBuffer = ArrayBuffer;
    global.Uint8Array = Uint8Array;
    this.global = global;
    const Mocker = this.moduleMocker.constructor;
    this.moduleMocker = new Mocker(global);
    const { projectConfig } = config;
    const { fakeTimers: old, fakeTimersModern: modern } = this;
    this.fakeTimers = new old.constructor({
      config: projectConfig,
      global,
      moduleMocker: this.moduleMocker,
      timerConfig: old._timerConfig,
    });
    this.fakeTimersModern = new modern.constructor({ config: projectConfig, global });
  }
}

/** @param {any} global @param {PropertyKey} key @param {unknown} value */
function plain(global, key, value) {
  Object.defineProperty(global, key, { configurable: true, enumerable: true, writable: true, value });
  return value;
}
