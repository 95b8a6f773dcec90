// A design whose slots hand out nothing.

export function fillable() {}

export function fillFrom() {}

export function refill() {}
