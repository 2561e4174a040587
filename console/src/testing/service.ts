// The service as tests of pages have it: answers by method and path, and a socket.
import { vi } from "vitest";
import type { Message } from "../api/client";

interface Asked {
  method: string;
  path: string;
  query: URLSearchParams;
  key: string | null;
  body: Record<string, unknown> | undefined;
}
type Answers = Record<string, [status: number, answer: unknown] | ((asked: Asked) => [status: number, answer: unknown])>;

/** Answers what is asked of the service, by method and path, and notes it. */
export function serviceThat(answers: Answers): Asked[] {
  const all: Asked[] = [];
  vi.stubGlobal(
    "fetch",
    vi.fn(async (request: Request) => {
      const text = await request.text();
      const asked: Asked = {
        method: request.method,
        path: new URL(request.url).pathname,
        query: new URL(request.url).searchParams,
        key: request.headers.get("Authorization"),
        body:
          text && request.headers.get("Content-Type") === "application/json" ? (JSON.parse(text) as Record<string, unknown>) : undefined,
      };
      all.push(asked);
      const found = answers[`${asked.method} ${asked.path}`] ?? [404, { code: "not-found", detail: "There is no such room or kit here." }];
      const [status, answer] = typeof found === "function" ? found(asked) : found;
      const type = status < 400 ? "application/json" : "application/problem+json";
      if (status === 204) return new Response(null, { status });
      return new Response(JSON.stringify(answer), { status, headers: { "Content-Type": type } });
    }),
  );
  return all;
}

/** A socket that a test speaks through. */
export class TestSocket {
  static all: TestSocket[] = [];
  static readonly OPEN = 1;
  readyState = 0;
  sent: Record<string, unknown>[] = [];
  onopen: (() => void) | null = null;
  onmessage: ((event: { data: string }) => void) | null = null;
  onclose: ((event: { code: number }) => void) | null = null;
  onerror: (() => void) | null = null;
  constructor(readonly address: string) {
    TestSocket.all.push(this);
  }
  send(text: string) {
    this.sent.push(JSON.parse(text) as Record<string, unknown>);
  }
  open() {
    this.readyState = 1;
    this.onopen?.();
  }
  says(message: Partial<Message>) {
    this.onmessage?.({ data: JSON.stringify(message) });
  }
  close(code = 1006) {
    this.readyState = 3;
    this.onclose?.({ code });
  }
}

/** The socket that was opened last. */
export const latestSocket = () => TestSocket.all[TestSocket.all.length - 1] as TestSocket;
