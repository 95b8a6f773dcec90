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
  window.advance = ms => {
    const end = now + ms;
    for (;;) {
      const next = list.filter(t => t.due <= end).sort((a, b) => a.due - b.due || a.number - b.number)[0];
      if (!next) break;
      list = list.filter(t => t !== next);
      now = Math.max(now, next.due);
      next.f(...next.args);
    }
    now = end;
  };
})();
