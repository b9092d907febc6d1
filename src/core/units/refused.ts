/** The header by which a request is marked that must not reach the application (services/gate.ts). */
export const REFUSED = "x-nerrit-refused";

export type RefusedFor = "other user" | "method" | "address";

/** What is answered to each. */
export const REFUSALS: Record<RefusedFor, { status: 400 | 403 | 405; message: string }> = {
  "other user": {
    status: 403,
    message:
      "This Nerrit belongs to another user of this machine. That user can let others in with npm start -- --any-user.",
  },
  method: { status: 405, message: "Nerrit does not answer this method." },
  address: { status: 400, message: "The address has a % that encodes no character." },
};
