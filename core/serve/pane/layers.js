// What lies above the page beside a pane. What Escape closes, and whether cancel can be prevented, goes by what was done on the page,
// whoever did it (HTML, close watchers): the browser knows of what its user did alone.
(() => {
  let watchers = []; // { el, group }, those opened last at the end
  let more = 0; // groups that there may be beside the first
  let spent = false; // what is done next allows no further one
  let active = false; // something was done since cancel was prevented last

  /** Notes that something was done: a button of the mouse went down, or a key. */
  function activated() {
    active = true;
    if (spent) return;
    spent = true;
    more++;
  }

  const modifiers = ["Shift", "Control", "Alt", "Meta"];
  /** Whether a key that goes down is something that was done. */
  const counts = key => key !== "Escape" && !modifiers.includes(key);
  const closesItself = el => el.popover === "auto" || el.popover === "hint";
  const isOpen = el => el.isConnected && (el.localName === "dialog" ? el.open : el.matches(":popover-open"));

  // watched are those that are open, in how many groups, and the last of these.
  function watched() {
    watchers = watchers.filter(w => isOpen(w.el));
    return { list: watchers, groups: new Set(watchers.map(w => w.group)).size, top: watchers.at(-1)?.group ?? 0 };
  }

  addEventListener("beforetoggle", e => {
    const el = e.target;
    if (el.localName === "dialog" && e.newState === "closed") shuts = true;
    if (e.newState !== "open" || (el.localName !== "dialog" && !closesItself(el))) return;
    const { list, groups, top } = watched();
    watchers = [...list.filter(w => w.el !== el), { el, group: groups <= more ? top + 1 : top }];
    queueMicrotask(() => { spent = isOpen(el) ? false : spent; });
  }, true);
  addEventListener("cancel", e => queueMicrotask(() => { if (e.defaultPrevented) active = false; }), true);

  // asks says whether Escape closes an element.
  function asks(el) {
    if (el.localName !== "dialog") return true;
    const by = el.getAttribute("closedby")?.toLowerCase();
    return by === "any" || by === "closerequest" || (by !== "none" && el.matches(":modal"));
  }

  /** Closes the last group, until one keeps open. */
  function escape() {
    const { list, top } = watched();
    if (list.length === 0) return;
    for (const { el } of list.filter(w => w.group === top && asks(w.el)).reverse()) {
      if (!closes(el)) break;
    }
    more = Math.max(0, more - 1);
  }

  function closes(el) {
    if (el.localName !== "dialog") {
      el.hidePopover();
      return true;
    }
    if (!el.dispatchEvent(new Event("cancel", { cancelable: watched().groups <= more && active }))) return false;
    el.close();
    return true;
  }

  /** Closes what closes when a press begins and ends elsewhere. */
  function dismiss(down, up) {
    const belongs = (el, popover) => popover.contains(el) || el.closest("button")?.popoverTargetElement === popover;
    for (const { el } of watched().list.filter(w => closesItself(w.el)).reverse()) {
      if (belongs(down, el) || belongs(up, el)) break;
      el.hidePopover();
    }
    const top = watched().list.findLast(w => w.el.localName === "dialog")?.el;
    if (top?.getAttribute("closedby")?.toLowerCase() !== "any") return;
    const beside = top.matches(":modal") ? down === top && up === top : !top.contains(down) && !top.contains(up);
    if (beside) top.requestClose();
  }

  let shuts = false; // a dialog, which browsers tell with the next frame

  /** Waits until what was put off is told. */
  async function settled() {
    if (shuts) await new Promise(done => { requestAnimationFrame(done); setTimeout(done, 100); });
    shuts = false;
    await new Promise(done => setTimeout(done));
  }

  /** The modal dialog on top, if there is one. */
  const modal = () => watched().list.findLast(w => w.el.matches(":modal"))?.el;

  window.lienLayers = { modifiers, counts, activated, modal, escape, dismiss, settled };
})();
