// A design without forms.

export const isField = () => false;
export const held = () => null;
export const fieldOf = () => null;
export const formsAsked = () => false;
export function formsChanged() {}
export function touch() {}
export function resetFields() {}
export function formValues() {}
