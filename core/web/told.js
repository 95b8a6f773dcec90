// What the console is told.
(() => {
  window.told = [];
  const tell = (...args) => window.told.push(args.map(a => a?.stack ?? String(a)).join(" "));
  console.error = tell;
  addEventListener("error", e => tell(e.message));
})();
