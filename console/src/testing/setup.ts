import { cleanup, configure } from '@testing-library/react';
import { afterEach, vi } from 'vitest';
import { standIn } from './service';

// a busy machine takes its time
configure({ asyncUtilTimeout: 5000 });

globalThis.fetch = (input) => standIn.fetch(input as Request);

// requests of the page are relative to it; outside a browser they need a base
class Based extends Request {
  constructor(input: RequestInfo | URL, init?: RequestInit) {
    super(typeof input === 'string' ? new URL(input, 'http://console.vellmar.example') : input, init);
  }
}
// all files of tests share one stand-in for a browser, which is made ready once
if (Request.name !== 'Based') {
  globalThis.Request = Based;
  // it lays nothing out: give scrollers room, so that lists draw their rows
  Object.defineProperties(Element.prototype, { clientHeight: { value: 600 }, clientWidth: { value: 1000 } });
}
globalThis.ResizeObserver = class {
  observe() {}
  unobserve() {}
  disconnect() {}
};

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});
