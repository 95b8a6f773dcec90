// A design whose services are asked of what stands in for them.

export function send() {}
export function stopSending() {}
