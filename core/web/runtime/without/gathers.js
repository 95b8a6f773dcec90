// A design in which nothing is gathered.

export function regather() {}
