// The pages of speed.lien, written by hand in plain script.
const kinds = ["tall", "low", "wide", "blue", "raw"];
const wares = ["bowl", "jug", "vase", "plate"];
const rowsFrom = (first, n) => Array.from({ length: n }, (_, i) => ({ id: first + i, name: `${kinds[(first + i) % 5]} ${wares[(first + i) % 4]}`, kg: (first + i) % 9 }));
const make = (name, ...children) => {
  const el = document.createElement(name);
  el.append(...children);
  return el;
};
const button = (text, f) => {
  const b = make("button", text);
  if (f) b.addEventListener("click", f);
  return b;
};

function rowsPage() {
  let rows = [];
  let chosen = null;
  let made = 0;
  const elements = new Map();
  const body = document.createElement("tbody");

  function rowOf(r) {
    const tr = make("tr");
    const name = button(r.name);
    name.className = "choose";
    const remove = button("Remove");
    remove.className = "remove";
    tr.append(make("td", String(r.id)), make("td", name), make("td", remove), make("td", `${r.kg} kg`));
    tr.name = name.firstChild;
    tr.row = r;
    elements.set(r.id, tr);
    return tr;
  }
  function renew(list) {
    rows = list;
    elements.clear();
    body.replaceChildren(...rows.map(rowOf));
  }
  function choose(id) {
    if (chosen !== null) elements.get(chosen)?.classList.remove("chosen");
    chosen = id;
    elements.get(id).classList.add("chosen");
  }
  body.addEventListener("click", e => {
    const tr = e.target.closest("tr");
    if (e.target.className === "choose") choose(tr.row.id);
    if (e.target.className === "remove") {
      rows = rows.filter(r => r !== tr.row);
      elements.delete(tr.row.id);
      tr.remove();
    }
  });
  document.body.append(
    button("Make 1000", () => { renew(rowsFrom(made, 1000)); made += 1000; }),
    button("Make 10000", () => { renew(rowsFrom(made, 10000)); made += 10000; }),
    button("Add 1000", () => {
      const more = rowsFrom(made, 1000);
      made += 1000;
      rows = [...rows, ...more];
      body.append(...more.map(rowOf));
    }),
    button("Every tenth", () => {
      rows = rows.map((r, i) => {
        if (i % 10 !== 0) return r;
        const next = { ...r, name: `${r.name}!` };
        const tr = elements.get(r.id);
        tr.row = next;
        tr.name.data = next.name;
        return next;
      });
    }),
    button("Swap", () => {
      rows = rows.slice();
      [rows[1], rows[998]] = [rows[998], rows[1]];
      const [a, b] = [body.children[1], body.children[998]];
      const after = b.nextSibling;
      a.replaceWith(b);
      body.insertBefore(a, after);
      const second = body.children[1];
      if (second !== b) body.insertBefore(b, second);
    }),
    button("Clear", () => renew([])),
    make("table", body),
  );
}

function filterPage() {
  const all = rowsFrom(0, 1000);
  const items = all.map(r => make("li", `${r.id} ${r.name}`));
  const list = make("ul", ...items);
  const input = make("input");
  input.setAttribute("aria-label", "Find");
  input.addEventListener("input", () => list.replaceChildren(...items.filter((_, i) => all[i].name.includes(input.value))));
  document.body.append(input, list);
}

function nestPage() {
  let lit = false;
  const parts = [];
  let outer = null;
  for (let depth = 199; depth >= 0; depth--) {
    const part = make("div", String(depth));
    parts.push(part);
    (outer ?? document.body).append(part);
    outer = part;
  }
  document.body.prepend(button("Light", () => {
    lit = !lit;
    for (const p of parts) p.classList.toggle("lit", lit);
  }));
}

({ rows: rowsPage, filter: filterPage, nest: nestPage })[new URLSearchParams(location.search).get("page")]();
