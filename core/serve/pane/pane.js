// The pane beside a page. The page runs by itself; what people do on it is told to the machine that serves it, which
// does the same on the engine and says what is behind the page.

const $ = id => document.getElementById(id);
const frame = $("page");
let view = null;
let at = "";
let working = Promise.resolve();

/** Does one thing after the other. */
function queue(f) {
  working = working.then(f).catch(why => say(why.message, true));
  return working;
}

async function ask(request) {
  const answer = await fetch("/lien-do", { method: "POST", headers: { "content-type": "application/json" }, body: JSON.stringify({ Desk: at, ...request }) });
  const told = await answer.json().catch(() => ({ Error: `the machine that serves the page says ${answer.status}` }));
  if (!answer.ok) throw new Error(told.Error);
  return told;
}

function say(text, bad = false) {
  $("said").textContent = text;
  $("said").classList.toggle("bad", bad);
}

const inside = () => frame.contentWindow.lienInside;

/** Asks for something, brings the page to where the session is then if it has to be, and shows it. */
async function does(request) {
  const v = await ask(request);
  if (!view || v.Desk !== view.Desk) listen(v);
  at = v.Desk;
  view = v;
  if (v.Bring) await bring(v);
  show(v);
  compare(v);
  timed();
}

// bring loads the page anew and does on it what the session did.
async function bring(v) {
  await new Promise((done, failed) => {
    frame.onload = done;
    frame.onerror = failed;
    frame.src = `/at/${v.Desk}/index.html?${Date.now()}`;
  });
  await begun();
  for (const a of v.Acts ?? []) await inside().act(a);
  synced = performance.now();
  hear();
}

// begun waits until the page's modules have run.
async function begun() {
  for (let i = 0; i < 200 && inside().count() === 0; i++) await new Promise(done => setTimeout(done, 10));
}

function hear() {
  const w = frame.contentWindow;
  w.lienTold = g => queue(() => does({ Do: "gesture", ...g }));
  w.lienBegins = () => pass();
  w.lienHears = { buttons: view.Buttons, moves: view.Moves };
  w.lienPointed = (place, picked) => { if (picked || place !== pointing) point(place); };
  w.lienPoints = $("point").getAttribute("aria-pressed") === "true";
}

// compare says where the page is not what the engine comes to.
function compare(v) {
  const now = inside()?.print();
  if (!now) return;
  const tags = now.Tags.findIndex((t, i) => t !== v.Page.Tags[i]);
  if (now.Text === v.Page.Text && tags < 0 && now.Tags.length === v.Page.Tags.length) return;
  say("the page and the engine differ here: what stands below is the engine's. Start over, or load the page again.", true);
}

// Time.

let synced = 0;
let waiting = null;
const runs = () => $("runs").getAttribute("aria-pressed") === "true";

// pass lets the time pass on both sides that has passed since it did last, if something waits for it, and if it is long
// enough for a step.
function pass() {
  const ms = Math.floor(performance.now() - synced);
  if (!runs() || !view || view.Next < 0 || ms < 200) return;
  synced = performance.now();
  const by = Math.min(ms, Math.ceil(view.Next));
  inside().advance(by);
  queue(() => does({ Do: "wait", Ms: by }));
}

function timed() {
  clearTimeout(waiting);
  if (!runs() || view.Next < 0) return;
  synced = performance.now();
  waiting = setTimeout(() => queue(async () => {
    if (!runs() || view.Next < 0) return;
    const ms = Math.ceil(view.Next);
    inside().advance(ms);
    await does({ Do: "wait", Ms: ms });
  }), view.Next);
}

// What is shown.

function element(name, props = {}, ...children) {
  const el = document.createElement(name);
  for (const [k, v] of Object.entries(props)) k in el ? (el[k] = v) : el.setAttribute(k, v);
  el.append(...children);
  return el;
}

/** Gives an element children, and keeps those that are the same: one may be about to be pressed. */
function fill(parent, ...children) {
  const old = [...parent.childNodes];
  const next = element("div", {}, ...children);
  [...next.childNodes].forEach((child, i) => {
    if (!old[i]) parent.append(child);
    else if (!old[i].isEqualNode(child)) old[i].replaceWith(child);
  });
  old.slice(children.length).forEach(child => child.remove());
}

function show(v) {
  say(v.Error ?? v.Said ?? "", Boolean(v.Error));
  document.title = `${v.Title} - lien serve`;
  choices(v);
  state(v);
  $("turn").textContent = v.Turn.join("\n");
  if (v.Failed) $("turn").append(element("span", { className: "failed", textContent: `\nfailed: ${v.Failed}` }));
  waits(v);
  steps(v);
  fill($("findings"), ...(v.Findings?.length ? v.Findings.map(f => element("p", { className: "finding" }, `${f.Level}: ${f.Message} `, element("span", { className: "at", textContent: f.At }), element("br"), f.Do)) : ["nothing to mend"]));
}

function choices(v) {
  const option = (kind, name) => element("option", { value: `${kind}:${name}`, textContent: kind === "start" ? name : `${name}, alone` });
  $("what").replaceChildren(...(v.Starts ?? []).map(n => option("start", n)), ...(v.Components ?? []).map(n => option("alone", n)));
  $("what").value = v.Alone ? `alone:${v.Alone}` : `start:${v.Start}`;
  $("given").hidden = !v.Alone;
}

function state(v) {
  const was = document.activeElement?.dataset?.cell;
  fill($("state"), ...(v.State ?? []).flatMap(h => [
    element("h3", {}, h.Path, " ", element("small", { textContent: h.At })),
    ...h.Cells.map(c => {
      const b = element("button", { className: `cell${c.Changed ? " changed" : ""}`, textContent: `${c.Name} = ${c.Value}`, title: `${c.Kind}, ${c.At}\n${c.Whole}` });
      b.dataset.cell = `${h.Path}.${c.Name}`;
      const lit = () => lightCell(h.Path, c.Name);
      for (const e of ["pointerenter", "focus", "click"]) b.addEventListener(e, lit);
      for (const e of ["pointerleave", "blur"]) b.addEventListener(e, () => inside()?.light([]));
      return b;
    }),
  ]));
  if (!v.State?.length) fill($("state"), "nothing holds state");
  if (was) [...$("state").querySelectorAll(".cell")].find(b => b.dataset.cell === was)?.focus();
}

function lightCell(path, cell) {
  ask({ Do: "shown", Path: path, Cell: cell }).then(told => inside()?.light(told.Places), why => say(why.message, true));
}

function waits(v) {
  const list = (v.Waits ?? []).map(w => element("p", { textContent: w }));
  const button = (text, request) => {
    const b = element("button", { textContent: text });
    b.addEventListener("click", () => queue(() => does(request)));
    return b;
  };
  const ways = [];
  if (v.Next >= 0) ways.push(button("Let time pass", { Do: "next" }));
  (v.Answers ?? []).forEach((s, i) => ways.push(button(s, { Do: "answer", N: i })));
  (v.Fails ?? []).forEach((s, i) => ways.push(button(s, { Do: "fail", N: i })));
  fill($("waits"), ...(list.length ? [...list, ...ways] : ["nothing"]));
}

function steps(v) {
  const list = ["the start", ...(v.Steps ?? [])];
  fill($("steps"), ...list.map((s, i) => {
    const b = element("button", { textContent: s, className: i > v.Done ? "undone" : "" });
    if (i === v.Done) b.setAttribute("aria-current", "step");
    b.addEventListener("click", () => queue(() => does({ Do: "jump", N: i })));
    return element("li", {}, b);
  }));
  $("undo").disabled = v.Done === 0;
  $("redo").disabled = v.Done === (v.Steps ?? []).length;
}

// Pointing.

let pointing = -1;

async function point(place) {
  pointing = place;
  if (place < 0) return;
  inside().light([place]);
  try {
    const p = await ask({ Do: "of", Place: place });
    if (pointing === place) pointed(p);
  } catch (why) {
    say(why.message, true);
  }
}

function pointed(p) {
  $("pointed").hidden = false;
  $("pointed").lastElementChild.replaceChildren(
    element("h3", {}, p.Element, " ", element("small", { textContent: p.At })),
    element("p", {}, `${p.Writer} writes it, in ${p.Inside}`),
    ...(p.Reads ?? []).map(r => element("p", {}, element("code", { textContent: `${r.Cell} = ${r.Value}` }), `: ${r.Path} ${r.Kind} it, `, element("span", { className: "at", textContent: r.At }))),
    ...(p.Reads?.length ? [] : [element("p", { textContent: "It reads no cell." })]),
  );
}

const press = (id, f) => $(id).addEventListener("click", f);
const turned = id => {
  const on = $(id).getAttribute("aria-pressed") !== "true";
  $(id).setAttribute("aria-pressed", String(on));
  return on;
};

for (const id of ["undo", "redo", "over"]) press(id, () => queue(() => does({ Do: id })));
press("runs", () => {
  turned("runs");
  timed();
});
press("point", () => {
  const on = turned("point");
  frame.contentWindow.lienPoints = on;
  $("pointed").hidden = !on;
  pointing = -1;
  if (on) point(0);
  else inside().light([]);
});
press("before", () => point(Math.max(0, pointing - 1)));
press("after", () => point(Math.min(inside().count() - 1, pointing + 1)));
const put = away => {
  document.body.classList.toggle("away", away);
  $("show").hidden = !away;
  $(away ? "show" : "hide").focus();
};
press("hide", () => put(true));
press("show", () => put(false));
const open = () => {
  const [kind, ...rest] = $("what").value.split(":");
  const given = $("gives").value.split(";").map(s => s.trim()).filter(Boolean);
  return queue(() => does({ Do: "open", [kind === "start" ? "Start" : "Alone"]: rest.join(":"), Given: kind === "alone" ? given : [] }));
};
$("what").addEventListener("change", () => {
  $("gives").value = "";
  open();
});
$("given").addEventListener("submit", e => {
  e.preventDefault();
  open();
});
$("save").addEventListener("submit", e => {
  e.preventDefault();
  queue(() => does({ Do: "save", Name: $("name").value }));
});

// When the design changes, the page goes on.
let changes = null;
function listen(v) {
  changes?.close();
  changes = new EventSource(`/lien-changes?desk=${v.Desk}&since=${v.Version}`);
  changes.onmessage = () => queue(() => does({ Do: "again" }));
}

queue(() => does({ Do: "open" }));
