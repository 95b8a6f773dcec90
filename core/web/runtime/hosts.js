// Components as custom elements: the hosts of roots.

import { now } from "./nodes.js";
import { mountBlock, unmount } from "./blocks.js";
import { instance, unmountInstance } from "./instances.js";
import { turn } from "./turns.js";

let keys = 0;

/** A key that no other call gives. */
export function fresh() {
  const was = keys;
  now.undo.push({ back: () => { keys = was; } });
  return `k${++keys}`;
}

/** Puts a component at the end of the page, with what a start gives it. */
export function mount(comp, given = {}) {
  const host = document.createElement(comp.name);
  host.given = given;
  document.body.append(host);
}

/** Defines a component as a custom element. */
export function define(comp) {
  if (customElements.get(comp.name)) return;
  customElements.define(comp.name, class extends HTMLElement {
    given = {};

    connectedCallback() {
      if (this.root) return;
      this.style.display = "contents";
      turn("start", () => {
        const i = instance(comp, null, this.given);
        i.host = this;
        this.root = i;
        const holder = { dom: this, get parts() { return i.body.parts; } };
        this.holder = holder;
        mountBlock(comp.view, i, null, null, holder, body => { i.body = body; });
        i.live();
      });
    }

    disconnectedCallback() {
      queueMicrotask(() => {
        if (this.isConnected || !this.root) return;
        const i = this.root;
        this.root = null;
        turn("end", () => {
          unmount(i.body, this.holder);
          unmountInstance(i);
        });
      });
    }
  });
}

