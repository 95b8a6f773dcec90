// A design in which no attribute leads somewhere.

export function refused() {}
