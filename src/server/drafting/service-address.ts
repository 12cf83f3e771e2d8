const LOCAL = new Set(['localhost', '127.0.0.1', '[::1]']);

/** Name and port that pictures would be sent to. */
export const hostOf = (address: string): string => new URL(address).host;

/** Whether a service is on this machine, so that nothing leaves it. */
export const isLocal = (address: string): boolean => LOCAL.has(new URL(address).hostname);
