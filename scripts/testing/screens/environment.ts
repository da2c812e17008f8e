import "@testing-library/jest-dom";
import { configure } from "@testing-library/react";
import { TextDecoder, TextEncoder } from "node:util";
import { clear } from "./screen";

/** What jsdom lacks of a browser. Nothing is ever "in sight", so charts, which need a canvas, stay their tables. */
class Watcher {
  observe() {}
  unobserve() {}
  disconnect() {}
  takeRecords() {
    return [];
  }
}

Object.assign(globalThis, {
  TextEncoder,
  TextDecoder,
  ResizeObserver: Watcher,
  IntersectionObserver: Watcher,
});
Object.assign(window, {
  matchMedia: (query: string) => ({
    matches: false,
    media: query,
    addEventListener() {},
    removeEventListener() {},
  }),
  scrollTo() {},
});
Object.assign(Element.prototype, {
  scrollIntoView() {},
  hasPointerCapture: () => false,
  setPointerCapture() {},
  releasePointerCapture() {},
});

// jsdom walks the whole page for each label of each field, anew for each look at it: most of the time of a search by name.
const LABELABLE = "button, input:not([type=hidden]), meter, output, progress, select, textarea";
Object.defineProperty(HTMLLabelElement.prototype, "control", {
  get(this: HTMLLabelElement) {
    return this.htmlFor ? this.ownerDocument.getElementById(this.htmlFor) : this.querySelector(LABELABLE);
  },
});
for (const { prototype } of [
  HTMLButtonElement,
  HTMLInputElement,
  HTMLOutputElement,
  HTMLSelectElement,
  HTMLTextAreaElement,
])
  Object.defineProperty(prototype, "labels", {
    get(this: HTMLInputElement) {
      if (this.type === "hidden") return null;
      const around = this.closest("label");
      const named = this.id ? this.ownerDocument.querySelectorAll(`label[for=${JSON.stringify(this.id)}]`) : [];
      return [...(around && !around.htmlFor && around.control === this ? [around] : []), ...named];
    },
  });

// Whether an ancestor hides a thing costs most of the time of a search, and the styles that would hide it are not loaded here.
// Waiting ends with the state, not with the clock: the limit is for what never comes.
configure({
  defaultHidden: true,
  asyncUtilTimeout: 20000,
  getElementError: (message) => new Error(String(message).split("\n")[0]),
});

beforeEach(() => clear());
