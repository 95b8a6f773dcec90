// Time that passes when somebody says so.
(() => {
  let now = 0;
  let number = 0;
  let list = [];
  window.lienClock = {
    now: () => now,
    set(f, ms, ...args) {
      const t = { number: ++number, due: now + Math.max(0, ms), f, args };
      list.push(t);
      return t.number;
    },
    clear(n) { list = list.filter(t => t.number !== n); },
  };
  // Lets time pass until the next timer runs, but not beyond an end, and says whether one did.
  window.elapse = end => {
    const next = list.filter(t => t.due <= end).sort((a, b) => a.due - b.due || a.number - b.number)[0];
    now = next ? Math.max(now, next.due) : end;
    if (!next) return false;
    list = list.filter(t => t !== next);
    next.f(...next.args);
    return true;
  };
  window.advance = ms => {
    const end = now + ms;
    while (elapse(end));
  };
})();
