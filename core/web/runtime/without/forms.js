// A design without forms.

export function mayBeField() {}
export function remember() {}
export function formsChanged() {}
export function settleForms() {}
export function showAgain() {}
export function goesBack() {}
export function leaving() {}
export function touch() {}
export function touchBy() {}
export function resetsForm() {}
export function resetFields() {}
export function submitted() {}
