/** Carries from the proxy to the layout what marks a script as ours. */
export const NONCE = "x-nerrit-nonce";
