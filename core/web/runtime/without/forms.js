// A design without forms.

export const mayBeField = () => false;
export function remember() {}
export const fieldOf = () => null;
export const formsAsked = () => false;
export function formsChanged() {}
export const leaving = () => null;
export function touch() {}
export const resetsForm = () => false;
export function resetFields() {}
export function formValues() {}
