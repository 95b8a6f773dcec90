// A design without components that are fields of forms.

export function asControl() {}

export function tellForm() {}
