// Services that are asked over HTTP (RFC 9110) with JSON (RFC 8259), at addresses that are URI templates (RFC 6570).

const operators = {
  "": ["", ",", false, "", false], "+": ["", ",", false, "", true], "#": ["#", ",", false, "", true], ".": [".", ".", false, "", false],
  "/": ["/", "/", false, "", false], ";": [";", ";", true, "", false], "?": ["?", "&", true, "=", false], "&": ["&", "&", true, "=", false],
};

const strict = s => encodeURIComponent(s).replace(/[!'()*]/g, c => "%" + c.charCodeAt(0).toString(16).toUpperCase());
const lenient = s => s.replace(/%[0-9A-Fa-f]{2}|[A-Za-z0-9\-._~:/?#[\]@!$&'()*+,;=]|[^]/gu, c => (c.length === 3 && c[0] === "%" ? c : /[A-Za-z0-9\-._~:/?#[\]@!$&'()*+,;=]/.test(c) ? c : strict(c)));

/** A template with values in it: texts, or lists of them; what is null is left out. */
export function expand(template, values) {
  return template.replace(/\{([+#./;?&]?)([^}]*)\}/g, (_, op, names) => {
    const [first, between, named, empty, reserved] = operators[op];
    const coded = reserved ? lenient : strict;
    const parts = names.split(",").map(spec => {
      const [, name, most, each] = /^([^:*]*)(?::(\d+))?(\*)?$/.exec(spec);
      const v = values[name];
      if (v === null || v === undefined || (Array.isArray(v) && v.length === 0)) return null;
      const say = text => (named ? name + (text === "" ? empty : "=" + text) : text);
      if (!Array.isArray(v)) return say(coded(most ? [...String(v)].slice(0, Number(most)).join("") : String(v)));
      const list = v.map(x => coded(String(x)));
      return each ? list.map(say).join(between) : say(list.join(","));
    }).filter(p => p !== null);
    return parts.length > 0 ? first + parts.join(between) : "";
  });
}

class Misfit extends Error {}

const kinds = { text: "string", number: "number", boolean: "boolean" };

// called says what a value is, for people.
function called(v) {
  if (v === null) return "null";
  if (v === undefined) return "missing";
  if (Array.isArray(v)) return "a list";
  if (v === Infinity || v === -Infinity) return "too large a number";
  return { string: "a text", number: "a number", boolean: "true or false", object: "a record" }[typeof v];
}

// named says what a shape is, for people.
function named(s) {
  if (typeof s === "string") return s === "boolean" ? "true or false" : s === "null" || s === "any" ? s : `a ${s}`;
  return "one" in s ? JSON.stringify(s.one) : "list" in s ? "a list" : "is" in s ? s.is : "a record";
}

/** A value as a shape has it, without what the shape does not know; it throws where the value does not fit. */
export function taken(shape, v, shapes = {}, at = "") {
  const misfit = what => { throw new Misfit(`${at === "" ? "the reply" : at.replace(/^\./, "")} is ${called(v)}, not ${what}`); };
  if (shape in kinds) return typeof v === kinds[shape] && v !== Infinity && v !== -Infinity ? v : misfit(shape === "boolean" ? "true or false" : `a ${shape}`);
  if (shape === "null") return v === null ? v : misfit("null");
  if (shape === "any") return v;
  if ("is" in shape) return taken(shapes[shape.is], v, shapes, at);
  if ("one" in shape) return v === shape.one ? v : misfit(JSON.stringify(shape.one));
  if ("list" in shape) return Array.isArray(v) ? v.map((x, i) => taken(shape.list, x, shapes, `${at}[${i}]`)) : misfit("a list");
  if ("any" in shape) {
    let why;
    for (const s of shape.any) {
      try {
        return taken(s, v, shapes, at);
      } catch (e) {
        if (!(e instanceof Misfit)) throw e;
        if (s !== "null" && shape.any.length === 2 && shape.any.includes("null")) why = e; // what it is, if not null
      }
    }
    if (why) throw why;
    misfit(shape.any.map(named).join(" or "));
  }
  if (v === null || typeof v !== "object" || Array.isArray(v)) misfit("a record");
  const record = {};
  for (const [name, s] of Object.entries(shape.record)) {
    if (!Object.hasOwn(v, name) && shape.optional?.includes(name)) continue;
    record[name] = taken(s, Object.hasOwn(v, name) ? v[name] : undefined, shapes, `${at}.${name}`);
  }
  return record;
}

// said is why a service refuses: in its own words where it has some (RFC 9457), else by its status.
async function said(answer, asked) {
  if (/^application\/problem\+json/i.test(answer.headers.get("content-type") ?? "")) {
    const told = await answer.json().catch(() => null);
    const words = told?.detail ?? told?.title;
    if (typeof words === "string") return words;
  }
  return `${asked} answered ${answer.status}`;
}

/** What asks an operation: a function of its arguments that gives a promise of the reply. */
export function sender(o, shapes) {
  return async (args, signal) => {
    const at = expand(o.address, o.values(...args));
    const asked = `${o.method} ${at}`;
    const body = o.body && JSON.stringify(o.body(...args));
    const headers = body === undefined ? { accept: "application/json" } : { accept: "application/json", "content-type": "application/json" };
    let answer;
    try {
      answer = await fetch(at, { method: o.method, body, headers, signal, cache: "no-store" });
    } catch {
      throw new Error(`${asked}: there is no answer`);
    }
    if (!answer.ok) throw new Error(await said(answer, asked));
    if (!o.gives) return null;
    let v;
    try {
      v = await answer.json();
    } catch {
      throw new Error(`${asked}: the reply is no JSON`);
    }
    try {
      return taken(o.gives, v, shapes);
    } catch (why) {
      throw new Error(`${asked}: ${why.message}`);
    }
  };
}
