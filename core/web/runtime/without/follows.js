// A design in which nothing follows a value.

import { now } from "../nodes.js";

export function follow() {}

export function settleFollows() {
  if (now.stale.length > 0) now.reconcile();
}
