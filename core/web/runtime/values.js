// Values as the language has them: texts, numbers, booleans, null, lists and records that never change.

/** A turn that fails: what it changed is taken back. */
export class Failure extends Error {
  /** @param {string} message @param {string} [at] the place in the design */
  constructor(message, at = "") {
    super(at ? `${at}: ${message}` : message);
  }
}

/** @param {string} at @param {string} message @returns {never} */
export function fail(at, message) {
  throw new Failure(message, at);
}

/** Whether two values are equal, by value. Functions and instances are equal to themselves alone. */
export function same(a, b) {
  if (a === b) return true;
  if (Array.isArray(a)) return Array.isArray(b) && a.length === b.length && a.every((x, i) => same(x, b[i]));
  if (!isRecord(a) || !isRecord(b)) return false;
  return covers(a, b) && covers(b, a);
}

// covers says whether every field of a is in b; a field that is missing is null.
function covers(a, b) {
  for (const name of Object.keys(a)) if (!same(a[name] ?? null, field(b, name))) return false;
  return true;
}

/** Whether a value is a record: made by a literal, and no instance or element. */
export function isRecord(v) {
  return v !== null && typeof v === "object" && Object.getPrototypeOf(v) === Object.prototype;
}

/** A field of a record; null where it is missing. */
export function field(record, name) {
  return Object.hasOwn(record, name) ? record[name] ?? null : null;
}

/** What stands before a dot, which must not be null. */
export function there(v, at, name) {
  return v ?? fail(at, `what stands before .${name} is null`);
}

/** A value as a template shows it. */
export function text(v) {
  return typeof v === "string" ? v : show(v);
}

/** A value as the language writes it. */
export function show(v) {
  if (v === null || v === undefined) return "null";
  if (typeof v === "string") return quoted(v);
  if (Array.isArray(v)) return `[${v.map(show).join(", ")}]`;
  if (isRecord(v)) {
    const parts = Object.keys(v).map(name => `${name}: ${show(v[name])}`);
    return parts.length ? `{ ${parts.join(", ")} }` : "{}";
  }
  return String(v);
}

function quoted(s) {
  return JSON.stringify(s);
}

/** A number that the language has: finite, and no -0. */
export function finite(n, at) {
  return Number.isFinite(n) ? n + 0 : fail(at, "the result of this is not a finite number");
}

const most = 1_000_000;

/** A text or list that is not over a million long. */
export function short(v, at) {
  return v.length > most ? fail(at, "this is longer than a million") : v;
}

/** a + b, of numbers or texts. */
export function plus(a, b, at) {
  return typeof a === "number" ? finite(a + b, at) : short(a + b, at);
}

/** An item of a list, or null outside it. */
export function item(list, i) {
  return list === null ? null : list[i] ?? null;
}

/** A value in which what the steps lead to is another one. */
export function put(old, steps, v, at) {
  if (steps.length === 0) return v;
  const [step, ...rest] = steps;
  if (typeof step === "string") {
    if (old === null) fail(at, `what stands before .${step} is null, so nothing can be written into it`);
    return { ...old, [step]: put(field(old, step), rest, v, at) };
  }
  if (old === null || !(step in old)) fail(at, `there is no item ${step} to write to`);
  const list = old.slice();
  list[step] = put(old[step], rest, v, at);
  return list;
}

/** A text as a number, or null where it is none. */
export function number(s) {
  const n = s.trim() === "" ? NaN : Number(s);
  return Number.isFinite(n) ? n + 0 : null;
}

/** A text as a number; undefined where it is none. */
export function numberOnly(s) {
  return number(s) ?? undefined;
}

/** One of some texts; undefined where it is none of them. */
export function among(list) {
  return s => (list.includes(s) ? s : undefined);
}

// Methods that are not JavaScript's own of the same name: nothing is null, and items are the same by value.
const texts = {
  length: s => s.length,
  at: (s, i) => s.at(i) ?? null,
  slice: (s, from, to) => s.slice(from, to ?? undefined),
  replaceAll: (s, part, by) => s.replaceAll(part, () => by),
};

const lists = {
  length: texts.length,
  at: texts.at,
  slice: texts.slice,
  includes: (l, v) => l.some(x => same(x, v)),
  indexOf: (l, v) => l.findIndex(x => same(x, v)),
  join: (l, by = ",") => l.map(text).join(by),
  find: (l, f) => l.find(f) ?? null,
  findLast: (l, f) => l.findLast(f) ?? null,
};

/** A number as text. */
export function toFixed(n, at, decimals) {
  return decimals >= 0 && decimals <= 100 ? there(n, at, "toFixed").toFixed(decimals) : fail(at, "toFixed takes 0 to 100 decimals");
}

/** The code of a text's character. */
export function charCodeAt(s, at, i) {
  return i >= 0 && i < there(s, at, "charCodeAt").length ? s.charCodeAt(i) : fail(at, `there is no character ${i} in ${show(s)}`);
}

/** A method of a text or list. */
export function method(v, name, at, ...args) {
  there(v, at, name);
  const own = (Array.isArray(v) ? lists : texts)[name];
  const out = own ? own(v, ...args) : v[name](...args);
  return typeof out === "string" || Array.isArray(out) ? short(out, at) : out;
}

/** A list of n items. */
export function listOf(n, f, at) {
  if (n > most) fail(at, "this is longer than a million");
  return Array.from({ length: Math.max(0, Math.trunc(n)) }, (_, i) => f(i));
}

/** What f gives of a value, or null for null. */
export function maybe(v, f) {
  return v === null ? null : f(v);
}
