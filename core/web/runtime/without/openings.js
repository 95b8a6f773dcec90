// A design in which nothing is opened above the page.

export function openAll() {}
