// A design without forms.

export const mayBeField = () => false;
export function remember() {}
export const fieldOf = () => null;
export function formsChanged() {}
export function settleForms() {}
export function showAgain() {}
export function goesBack() {}
export const leaving = () => null;
export function touch() {}
export const resetsForm = () => false;
export function resetFields() {}
export function formValues() {}
