// What the components of a page share.

export { among, charCodeAt, field, finite, item, listOf, maybe, method, number, numberOnly, plus, put, same, short, show, text as textOf, there, toFixed } from "./values.js";
export { each, setItem, slot, text, use, when } from "./blocks.js";
export { callElement, element } from "./elements.js";
export { prevent } from "./events.js";
export { formDirty, formTouched, formValues } from "./forms.js";
export { bound, call, component, holds, named, ofKind } from "./instances.js";
export { runs, start, stop, time } from "./timers.js";
export { answer, ask, service } from "./services.js";
export { leave, open } from "./openings.js";
export { emit, log, send } from "./world.js";
export { define, fresh, mount } from "./hosts.js";
