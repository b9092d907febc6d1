/**
 * Answers with events as they happen (Server-Sent Events).
 *
 * @param begin starts to tell; what it returns ends the telling, when the reader has gone or `end` was
 *   called. Null: there is nothing to follow, and the answer ends with what has been sent.
 */
export function eventStream(
  request: Request,
  begin: (send: (name: string, data: unknown) => void, end: () => void) => (() => void) | null,
): Response {
  const encoder = new TextEncoder();
  let leave: (() => void) | null = null;
  let over = false;
  const stream = new ReadableStream({
    start(controller) {
      const send = (name: string, data: unknown) => {
        if (over) return;
        controller.enqueue(encoder.encode(`event: ${name}\ndata: ${JSON.stringify(data)}\n\n`));
      };
      const end = () => {
        if (over) return;
        over = true;
        leave?.();
        controller.close();
      };
      leave = begin(send, end);
      if (over) leave?.();
      else if (!leave) end();
    },
    cancel() {
      over = true;
      leave?.();
    },
  });
  request.signal.addEventListener("abort", () => {
    over = true;
    leave?.();
  });
  return new Response(stream, {
    headers: {
      "Content-Type": "text/event-stream; charset=utf-8",
      "Cache-Control": "no-cache, no-transform",
    },
  });
}
