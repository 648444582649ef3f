const OWN = /^(localhost|127(\.\d+){3}|\[::1\])(:\d+)?$/

/** True if a request asks for this machine by a name of its own: a page elsewhere can let a name of its own lead here. */
export const isOwnHost = (host = ''): boolean => OWN.test(host)
