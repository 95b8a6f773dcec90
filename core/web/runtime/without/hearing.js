// A design in which nothing hears what contexts report.

export function hearContext() {}
export function stopHearing() {}
export function tellUsers() {}
