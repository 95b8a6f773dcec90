// A design without services.

export function endAsks() {}
