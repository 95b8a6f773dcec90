// A design in which nothing hears of presses elsewhere.

export function hearElsewhere() {}
